import type { Companion, DrawnPath, OverlayTheme } from './overlay-types';
import type { PlaceSet } from './place-set';
import { addLine } from './skeleton-overlay';

const TINTS = ['left', 'right', 'centre'] as const;

/** Another skeleton: rods in the tints of its sides, its name over its head; no rings, so that the character leads. */
export function drawCompanion(
  canvas: CanvasRenderingContext2D,
  { bones, label, isDashed }: Companion,
  places: PlaceSet,
  theme: OverlayTheme,
): void {
  canvas.save();
  if (isDashed) canvas.setLineDash([5, 3]);
  canvas.lineWidth = isDashed ? 1.6 : 2;
  canvas.globalAlpha = 0.85;
  for (const side of TINTS) {
    canvas.strokeStyle = theme[side];
    canvas.beginPath();
    for (const bone of bones)
      if (bone.side === side && places.has(bone.index) && places.has(bone.parent))
        addLine(canvas, places.x(bone.parent), places.y(bone.parent), places.x(bone.index), places.y(bone.index));
    canvas.stroke();
  }
  canvas.restore();
  let [x, y] = [0, Infinity];
  for (const { index, side } of bones)
    if (side !== 'spare' && places.has(index) && places.y(index) < y) [x, y] = [places.x(index), places.y(index)];
  if (y === Infinity) return;
  canvas.fillStyle = theme.quiet;
  canvas.font = '13px "Source Sans 3 Variable", sans-serif';
  canvas.textAlign = 'center';
  canvas.textBaseline = 'bottom';
  canvas.fillText(label, x, y - 14);
  canvas.textAlign = 'left';
}

/** A way on the floor with a mark where it starts; the root's as a fuller line than the hips'. */
export function drawPath(
  canvas: CanvasRenderingContext2D,
  places: PlaceSet,
  look: DrawnPath['look'],
  theme: OverlayTheme,
): void {
  if (places.count === 0 || !places.has(0)) return;
  canvas.strokeStyle = look === 'root' ? theme.accent : theme.quiet;
  canvas.lineWidth = look === 'root' ? 2.4 : 1.2;
  canvas.beginPath();
  canvas.moveTo(places.x(0), places.y(0));
  for (let at = 1; at < places.count; at++) if (places.has(at)) canvas.lineTo(places.x(at), places.y(at));
  canvas.stroke();
  canvas.beginPath();
  canvas.arc(places.x(0), places.y(0), look === 'root' ? 4 : 2.5, 0, 2 * Math.PI);
  canvas.fillStyle = canvas.strokeStyle;
  canvas.fill();
}
