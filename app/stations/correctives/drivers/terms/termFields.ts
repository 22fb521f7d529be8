import type { DriverTerm } from "~core/model/terms/driverTerms";
import type { TermView } from "~core/model/terms/termKind";

/** What the fields of one kind of term are given. */
export interface TermFieldsProps<T extends DriverTerm> {
  readonly term: T;
  readonly view: TermView;
  readonly onSet: (term: T) => void;
}
