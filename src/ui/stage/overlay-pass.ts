import { NOTHING_DRAWN, type OverlayState } from './overlay-types';
import type { Pane, StageHeight } from './pane';
import { drawPaneFrame, drawRule } from './pane-dressing';
import { drawBearing } from './bearing-overlay';
import { drawCapsule } from './capsule-overlay';
import { drawCompanion, drawPath } from './companion-overlay';
import { drawBefore, drawHinges, drawPlanned, drawSkeleton } from './skeleton-overlay';
import { planSkeleton, type SkeletonPlan } from './skeleton-plan';
import type { StageTheme } from './stage-theme';
import { drawHandle, handleOnScreen, knobPlace } from './turn-handle';
import type { PaneView } from './projection';

/** What changes how a skeleton looks; where its joints lie does not. */
const LOOKS = ['bones', 'selected', 'alsoPicked', 'hovered', 'highlighted', 'jointScale'] as const;

/** Half of a hinge's pin, of the figure's height. */
const PIN_SHARE = 0.06;

/** Draws skeleton, rule, marks and handles on a flat canvas over the mesh. */
export class OverlayPass {
  readonly canvas = document.createElement('canvas');
  state: OverlayState = NOTHING_DRAWN;
  private plan: SkeletonPlan | null = null;
  /** Where handles can be taken hold of, pixels, by view. */
  private knobs: Partial<Record<PaneView, readonly [number, number]>> = {};
  /** Where points that bear are, likewise, x and y in turn. */
  private bearing: Partial<Record<PaneView, readonly number[]>> = {};

  constructor() {
    this.canvas.className = 'absolute inset-0 touch-none';
    this.canvas.setAttribute('aria-hidden', 'true');
  }

  set(next: OverlayState): void {
    if (LOOKS.some((each) => next[each] !== this.state[each])) this.plan = null;
    // Where a handle was before it moved nobody must take hold of it.
    if (next.handles !== this.state.handles) this.canvas.dataset.knobs = '{}';
    this.state = next;
  }

  /** The colours changed. */
  forgetLooks(): void {
    this.plan = null;
  }

  resize(width: number, height: number, ratio: number): void {
    this.canvas.width = Math.round(width * ratio);
    this.canvas.height = Math.round(height * ratio);
    this.canvas.style.width = `${width}px`;
    this.canvas.style.height = `${height}px`;
  }

  /** @param hasGround whether nothing is drawn below, so that the ground is this canvas's own. */
  draw(panes: readonly Pane[], height: StageHeight, ratio: number, hasGround: boolean, theme: StageTheme): void {
    const canvas = this.canvas.getContext('2d');
    if (!canvas) return;
    this.plan ??= planSkeleton(this.state, theme);
    this.knobs = {};
    this.bearing = {};
    canvas.setTransform(ratio, 0, 0, ratio, 0, 0);
    canvas.clearRect(0, 0, this.canvas.width / ratio, this.canvas.height / ratio);
    for (const pane of panes) {
      const { rect } = pane;
      canvas.save();
      canvas.beginPath();
      canvas.rect(rect.x, rect.y, rect.width, rect.height);
      canvas.clip();
      canvas.translate(rect.x, rect.y);
      if (hasGround) {
        canvas.fillStyle = theme.ground;
        canvas.fillRect(0, 0, rect.width, rect.height);
      }
      this.drawPane(canvas, pane, this.plan, height, theme);
      if (panes.length > 1) drawPaneFrame(canvas, pane, theme);
      canvas.restore();
    }
    // What the last drawing showed, and where, for whoever cannot see it.
    this.canvas.dataset.knobs = JSON.stringify(this.knobs);
    this.canvas.dataset.bearing = JSON.stringify(this.bearing);
    this.canvas.dataset.drawn = this.state.planned
      ? `planned: ${this.state.planned.joints.length} joints, ${this.state.planned.rods.length} rods`
      : 'as it is';
  }

  private drawPane(
    canvas: CanvasRenderingContext2D,
    pane: Pane,
    plan: SkeletonPlan,
    height: StageHeight,
    theme: StageTheme,
  ): void {
    const { state } = this;
    if (pane.view === 'front' || pane.view === 'side') drawRule(canvas, pane, height.metres, theme);
    for (const { points, look } of state.paths) {
      pane.other.fill(points, pane.projectInto, null);
      drawPath(canvas, pane.other, look, theme);
    }
    if (state.capsule) drawCapsule(canvas, state.capsule, pane.project, theme);
    for (const companion of state.companions) {
      pane.other.fill(companion.points, pane.projectInto, null, companion.offset);
      drawCompanion(canvas, companion, pane.other, theme);
    }
    if (state.before) {
      pane.before.fill(state.before, pane.projectInto, state.isolated);
      drawBefore(canvas, state, pane.before, theme);
    }
    pane.places.fill(state.points, pane.projectInto, state.isolated);
    drawSkeleton(canvas, state, plan, pane.places, theme);
    if (state.bearing.length > 0) {
      pane.other.fill(state.bearing, pane.projectInto, null);
      drawBearing(canvas, pane.other, theme);
      this.bearing[pane.view] = placesOnScreen(pane);
    }
    if (state.planned) drawPlanned(canvas, state.planned, state.jointScale, pane.project, theme);
    if (state.hinges.length > 0) drawHinges(canvas, state.hinges, height.metres * PIN_SHARE, pane.project, theme);
    const handle = state.handles.get(pane.view);
    const onScreen = handle && handleOnScreen(handle, pane);
    if (!handle || !onScreen) return;
    drawHandle(canvas, handle, onScreen, pane.rect.width, theme);
    const [x, y] = knobPlace(onScreen, handle.degrees);
    this.knobs[pane.view] = [Math.round(pane.rect.x + x), Math.round(pane.rect.y + y)];
  }
}

/** What a pane's other places are on the canvas; nothing for one that is out of sight. */
const placesOnScreen = ({ rect, other }: Pane): number[] =>
  Array.from({ length: other.count }, (_, at) =>
    other.has(at) ? [Math.round(rect.x + other.x(at)), Math.round(rect.y + other.y(at))] : [-1, -1],
  ).flat();
