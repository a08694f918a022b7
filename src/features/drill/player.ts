import type { DrillBlock } from '@/workers/browser/drill.worker';

/** Frames of a block that is fetched at once. */
const BLOCK = 128;
/** Blocks that are kept; the oldest go first. */
const MOST_BLOCKS = 24;
/** A block that could not be fetched is asked for again after a pause, which doubles, and not for ever. */
const FIRST_PAUSE_MS = 500;
const MOST_FAILURES = 4;

export interface PlayRange {
  readonly from: number;
  readonly to: number;
}

export interface PlayState {
  readonly frame: number;
  readonly isPlaying: boolean;
  readonly speed: number;
  readonly isLooping: boolean;
  readonly range: PlayRange;
}

/** Where a frame lies in a block. */
export interface ShownFrame {
  readonly frame: number;
  readonly block: DrillBlock;
  /** Its number within the block. */
  readonly at: number;
}

export interface PlayerHooks {
  /** Fetches frames; never on the page's thread. */
  readonly fetch: (from: number, count: number) => Promise<DrillBlock>;
  /** Draws a frame that is there. */
  readonly draw: (shown: ShownFrame) => void;
  /** Called when what a person sees of the transport changed; not for each frame that plays. */
  readonly changed: () => void;
  /** Calls back in the next frame of the screen. */
  readonly request: (callback: () => void) => void;
  /** Milliseconds of the page's clock. */
  readonly now: () => number;
}

/**
 * The clock of a motion: which frame is shown, and when the next one is due. It plays by the time that has passed, so a
 * slow screen leaves frames out instead of slowing the motion; a frame that is not there yet is waited for.
 */
export class Player {
  private state: PlayState;
  private readonly blocks = new Map<number, DrillBlock>();
  private readonly asked = new Set<number>();
  private readonly failed = new Map<number, { readonly count: number; readonly until: number }>();
  private startedAt = 0;
  private startedFrom = 0;
  private isTicking = false;
  private isOver = false;
  private drawn = -1;

  constructor(
    readonly frameCount: number,
    readonly framesPerSecond: number,
    start: Partial<PlayState>,
    private readonly hooks: PlayerHooks,
  ) {
    const last = frameCount - 1;
    const from = held(start.range?.from ?? 0, 0, last);
    const range = { from, to: held(start.range?.to ?? last, from, last) };
    this.state = {
      frame: held(start.frame ?? range.from, 0, last),
      isPlaying: false,
      speed: start.speed ?? 1,
      isLooping: start.isLooping ?? true,
      range,
    };
    this.show(this.state.frame);
  }

  get current(): PlayState {
    return this.state;
  }

  toggle(): void {
    if (this.state.isPlaying) this.pause();
    else this.play();
  }

  play(): void {
    const { range, frame, isLooping } = this.state;
    const isAtEnd = frame >= range.to && !isLooping;
    this.restart(isAtEnd || frame < range.from || frame > range.to ? range.from : frame);
    this.set({ isPlaying: true });
    this.tick();
  }

  pause(): void {
    this.set({ isPlaying: false });
  }

  /** Goes by some frames and stops there; over the ends of the range where it loops. */
  step(by: number): void {
    const { frame, range, isLooping } = this.state;
    const count = range.to - range.from + 1;
    const wanted = frame + by;
    const isOut = wanted < range.from || wanted > range.to;
    this.seek(isLooping && isOut ? range.from + ((((wanted - range.from) % count) + count) % count) : wanted);
    this.set({ isPlaying: false });
  }

  seek(frame: number): void {
    // Whoever goes there wants to see it: it may have been mended.
    this.failed.clear();
    const next = held(Math.round(frame), 0, this.frameCount - 1);
    this.restart(next);
    this.set({ frame: next });
    this.show(next);
  }

  setSpeed(speed: number): void {
    this.restart(this.state.frame);
    this.set({ speed });
  }

  setLooping(isLooping: boolean): void {
    this.restart(this.state.frame);
    this.set({ isLooping });
  }

  /** Plays only a part; a frame outside of it comes in. */
  setRange({ from, to }: PlayRange): void {
    const last = this.frameCount - 1;
    const start = held(Math.min(from, to), 0, last);
    this.set({ range: { from: start, to: held(Math.max(from, to), start, last) } });
    this.restart(this.state.frame);
  }

  /** The stage is another one, or was cleared. */
  redraw(): void {
    this.drawn = -1;
    this.show(this.state.frame);
  }

  dispose(): void {
    this.isOver = true;
    this.blocks.clear();
  }

  private set(change: Partial<PlayState>): void {
    this.state = { ...this.state, ...change };
    this.hooks.changed();
  }

  private restart(frame: number): void {
    this.startedAt = this.hooks.now();
    this.startedFrom = frame;
  }

  private tick(): void {
    if (this.isTicking) return;
    this.isTicking = true;
    this.hooks.request(() => {
      this.isTicking = false;
      if (this.isOver || !this.state.isPlaying) return;
      // What is waited for is still to come: time does not run on while nothing can be shown.
      if (this.state.frame !== this.drawn) {
        this.show(this.state.frame);
        this.restart(this.state.frame);
        this.tick();
        return;
      }
      const due = this.due();
      this.show(due.frame);
      // The next frame needs its block before it is due.
      this.prefetch(due.frame);
      if (due.isEnd) {
        this.set({ isPlaying: false });
        return;
      }
      this.tick();
    });
  }

  private due(): { frame: number; isEnd: boolean } {
    const { range, speed, isLooping } = this.state;
    const passed = ((this.hooks.now() - this.startedAt) / 1000) * this.framesPerSecond * speed;
    const frame = this.startedFrom + Math.floor(passed + 1e-6);
    if (frame <= range.to) return { frame, isEnd: false };
    if (!isLooping) return { frame: range.to, isEnd: true };
    const count = range.to - range.from + 1;
    return { frame: range.from + ((frame - range.from) % count), isEnd: false };
  }

  private show(frame: number): void {
    const block = this.blockOf(frame);
    this.state = { ...this.state, frame };
    if (!block) return;
    if (frame === this.drawn) return;
    this.drawn = frame;
    this.hooks.draw({ frame, block, at: frame - block.from });
  }

  private prefetch(frame: number): void {
    const { range, isLooping } = this.state;
    const next = (Math.floor(frame / BLOCK) + 1) * BLOCK;
    if (next <= range.to) this.blockOf(next);
    else if (isLooping) this.blockOf(range.from);
  }

  private blockOf(frame: number): DrillBlock | null {
    const from = Math.floor(frame / BLOCK) * BLOCK;
    const there = this.blocks.get(from);
    if (there) {
      // Used last, so that it goes last.
      this.blocks.delete(from);
      this.blocks.set(from, there);
      return there;
    }
    if (!this.asked.has(from) && this.mayAsk(from)) {
      this.asked.add(from);
      void this.hooks.fetch(from, BLOCK).then(
        (block) => this.keep(from, block),
        () => this.fail(from),
      );
    }
    return null;
  }

  private mayAsk(from: number): boolean {
    const failure = this.failed.get(from);
    return !failure || (failure.count < MOST_FAILURES && this.hooks.now() >= failure.until);
  }

  private fail(from: number): void {
    this.asked.delete(from);
    if (this.isOver) return;
    const count = (this.failed.get(from)?.count ?? 0) + 1;
    this.failed.set(from, { count, until: this.hooks.now() + FIRST_PAUSE_MS * 2 ** (count - 1) });
    // Nothing comes any more: it does not look as if it played.
    if (count >= MOST_FAILURES) this.set({ isPlaying: false });
  }

  private keep(from: number, block: DrillBlock): void {
    this.asked.delete(from);
    this.failed.delete(from);
    if (this.isOver) return;
    this.blocks.set(from, block);
    for (const old of this.blocks.keys()) if (this.blocks.size > MOST_BLOCKS) this.blocks.delete(old);
    const { frame } = this.state;
    if (frame >= from && frame < from + BLOCK) this.show(frame);
  }
}

const held = (value: number, low: number, high: number): number => Math.max(low, Math.min(high, value));
