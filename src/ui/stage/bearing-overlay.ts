import type { OverlayTheme } from './overlay-types';
import type { PlaceSet } from './place-set';

/** Points of the feet that bear: short bars that lie on the floor side of a point. */
export function drawBearing(canvas: CanvasRenderingContext2D, places: PlaceSet, theme: OverlayTheme): void {
  canvas.save();
  canvas.strokeStyle = theme.ink;
  canvas.lineWidth = 2;
  canvas.beginPath();
  for (let at = 0; at < places.count; at++) {
    if (!places.has(at)) continue;
    const [x, y] = [places.x(at), places.y(at)];
    canvas.moveTo(x - 4, y + 1);
    canvas.lineTo(x + 4, y + 1);
    canvas.moveTo(x, y + 1);
    canvas.lineTo(x, y - 3);
  }
  canvas.stroke();
  canvas.restore();
}
