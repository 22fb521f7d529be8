import type { WebGLRenderer } from "three";

/** So long nothing was drawn before edges are smoothed, ms. */
const STILL_MS = 800;
/** Points drawn for each of the picture's, along either side, when nothing moves. */
const FINE = 2;

type Drawn = Pick<WebGLRenderer, "getPixelRatio" | "setPixelRatio">;

/**
 * Smooth edges where the processor draws: smoothing every frame takes nearly half of the frames a second there, so
 * what moves is drawn plainly, and what has come to rest once more, finely.
 */
export class FinerWhenStill {
  private timer: ReturnType<typeof setTimeout> | undefined;
  private fine = false;

  /** @param again asks for one more frame. */
  constructor(
    private readonly renderer: Drawn,
    private readonly again: () => void,
  ) {}

  /** Before a frame is drawn: it is a fine one if it was asked for here. */
  begin(): void {
    const ratio = this.fine ? FINE : 1;
    if (this.renderer.getPixelRatio() !== ratio) this.renderer.setPixelRatio(ratio);
    clearTimeout(this.timer);
    if (!this.fine)
      this.timer = setTimeout(() => {
        this.fine = true;
        this.again();
      }, STILL_MS);
    this.fine = false;
  }

  end(): void {
    clearTimeout(this.timer);
  }
}
