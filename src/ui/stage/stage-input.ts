import type { Pane } from './pane';

/** A place in a pane, pixels from its corner. */
export interface PaneSpot {
  readonly pane: Pane;
  readonly x: number;
  readonly y: number;
}

/** What a pointer can do on the stage. */
export interface StageGestures {
  readonly paneAt: (x: number, y: number) => Pane | null;
  readonly isOnKnob: (spot: PaneSpot) => boolean;
  readonly onHover: (spot: PaneSpot | null) => void;
  readonly onPick: (spot: PaneSpot, isMore: boolean) => void;
  /** `isFree`: not held to steps. */
  readonly onKnob: (spot: PaneSpot, phase: 'take' | 'move' | 'drop', isFree: boolean) => void;
  readonly onPan: (pane: Pane, dx: number, dy: number) => void;
  readonly onOrbit: (pane: Pane, dx: number, dy: number) => void;
  readonly onZoom: (pane: Pane, factor: number) => void;
}

/** Moves less than this are a click, pixels. */
const CLICK_PIXELS = 5;

type Drag = { readonly pane: Pane; x: number; y: number; moved: number } & (
  { readonly kind: 'knob' } | { readonly kind: 'camera'; readonly isPan: boolean; readonly button: number }
);

/** Pointer and wheel on the stage, told as what they mean. */
export class StageInput {
  private drag: Drag | null = null;

  constructor(
    private readonly surface: HTMLElement,
    private readonly gestures: StageGestures,
  ) {
    surface.addEventListener('pointerdown', this.onDown);
    surface.addEventListener('pointermove', this.onMove);
    surface.addEventListener('pointerup', this.onUp);
    surface.addEventListener('pointercancel', this.onUp);
    surface.addEventListener('pointerleave', this.onLeave);
    surface.addEventListener('wheel', this.onWheel, { passive: false });
    surface.addEventListener('contextmenu', (event) => event.preventDefault());
  }

  /** Whether a drag moves a camera or a knob just now. */
  get isDragging(): boolean {
    return this.drag !== null;
  }

  private spotOf(event: MouseEvent, within?: Pane): PaneSpot | null {
    const bounds = this.surface.getBoundingClientRect();
    const [x, y] = [event.clientX - bounds.left, event.clientY - bounds.top];
    const pane = within ?? this.gestures.paneAt(x, y);
    return pane && { pane, x: x - pane.rect.x, y: y - pane.rect.y };
  }

  private readonly onDown = (event: PointerEvent): void => {
    const spot = this.spotOf(event);
    if (!spot) return;
    this.surface.setPointerCapture(event.pointerId);
    const start = { pane: spot.pane, x: event.clientX, y: event.clientY, moved: 0 };
    if (event.button === 0 && this.gestures.isOnKnob(spot)) {
      this.drag = { ...start, kind: 'knob' };
      this.surface.style.cursor = 'grabbing';
      this.gestures.onKnob(spot, 'take', event.shiftKey);
      return;
    }
    const isPan = spot.pane.view !== 'free' || event.button !== 0 || event.shiftKey;
    this.drag = { ...start, kind: 'camera', isPan, button: event.button };
  };

  private readonly onMove = (event: PointerEvent): void => {
    const { drag } = this;
    if (!drag) {
      const spot = this.spotOf(event);
      this.gestures.onHover(spot);
      if (spot && this.gestures.isOnKnob(spot)) this.surface.style.cursor = 'grab';
      return;
    }
    const [dx, dy] = [event.clientX - drag.x, event.clientY - drag.y];
    drag.moved += Math.abs(dx) + Math.abs(dy);
    [drag.x, drag.y] = [event.clientX, event.clientY];
    if (drag.kind === 'knob') {
      const spot = this.spotOf(event, drag.pane);
      if (spot) this.gestures.onKnob(spot, 'move', event.shiftKey);
    } else if (drag.isPan) this.gestures.onPan(drag.pane, dx, dy);
    else this.gestures.onOrbit(drag.pane, dx, dy);
  };

  private readonly onUp = (event: PointerEvent): void => {
    const { drag } = this;
    this.drag = null;
    if (!drag) return;
    const spot = this.spotOf(event, drag.kind === 'knob' ? drag.pane : undefined);
    if (drag.kind === 'knob') {
      this.surface.style.cursor = 'default';
      if (spot) this.gestures.onKnob(spot, 'drop', event.shiftKey);
    } else if (spot && drag.moved <= CLICK_PIXELS && drag.button === 0)
      this.gestures.onPick(spot, event.ctrlKey || event.metaKey);
  };

  private readonly onLeave = (): void => {
    if (!this.drag) this.gestures.onHover(null);
  };

  private readonly onWheel = (event: WheelEvent): void => {
    event.preventDefault();
    const spot = this.spotOf(event);
    if (spot) this.gestures.onZoom(spot.pane, Math.exp(Math.max(-0.3, Math.min(0.3, event.deltaY * 0.0015))));
  };
}
