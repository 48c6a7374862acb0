/** One action that waits a moment; a newer one takes its place. */
export class Delayed {
  private timer = 0;
  private action: (() => void) | null = null;

  /** Wait, unless replaced or flushed before. */
  wait(ms: number, action: () => void): void {
    window.clearTimeout(this.timer);
    this.action = action;
    this.timer = window.setTimeout(() => this.flush(), ms);
  }

  /** Do what waits, now. */
  flush(): void {
    window.clearTimeout(this.timer);
    const action = this.action;
    this.action = null;
    action?.();
  }
}
