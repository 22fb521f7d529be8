import { Component, type ReactNode } from "react";

interface Props {
  readonly children: ReactNode;
  /** What stands there instead. @param again tries once more. */
  readonly instead: (again: () => void) => ReactNode;
}

/** Keeps the rest of a page at work where a part of it fails. */
export class FailBoundary extends Component<Props, { readonly failed: boolean }> {
  override state = { failed: false };

  static getDerivedStateFromError(): { readonly failed: boolean } {
    return { failed: true };
  }

  override render(): ReactNode {
    return this.state.failed ? this.props.instead(() => this.setState({ failed: false })) : this.props.children;
  }
}
