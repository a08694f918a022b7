/** The one clock of the page: whatever wants to be drawn is drawn once in the next frame, however often it asked. */
class FrameClock {
  private readonly waiting = new Set<() => void>();
  private readonly running: (() => void)[] = [];
  private scheduled = 0;

  /** Calls back in the next frame; a second wish for the same one changes nothing. */
  request(draw: () => void): void {
    this.waiting.add(draw);
    if (this.scheduled === 0) this.scheduled = requestAnimationFrame(this.tick);
  }

  cancel(draw: () => void): void {
    this.waiting.delete(draw);
  }

  private readonly tick = (): void => {
    this.scheduled = 0;
    // Who asks while it is drawn is drawn in the frame after this one.
    for (const draw of this.waiting) this.running.push(draw);
    this.waiting.clear();
    for (const draw of this.running) draw();
    this.running.length = 0;
  };
}

export const frameClock = new FrameClock();
