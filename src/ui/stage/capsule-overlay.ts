import type { Vec3 } from '@/core/math/vec3';
import type { DrawnCapsule, OverlayTheme, Project } from './overlay-types';

/** The capsule that a game moves: pale along its way, fuller where it is now. */
export function drawCapsule(
  canvas: CanvasRenderingContext2D,
  { radius, height, bases, now }: DrawnCapsule,
  project: Project,
  theme: OverlayTheme,
): void {
  canvas.save();
  canvas.strokeStyle = theme.accent;
  canvas.fillStyle = theme.accent;
  const size = { radius, height };
  for (let at = 0; at + 2 < bases.length; at += 3)
    outline(canvas, [bases[at], bases[at + 1], bases[at + 2]], size, project, 0.28, 0.03);
  if (now) outline(canvas, now, size, project, 0.9, 0.08);
  canvas.restore();
}

function outline(
  canvas: CanvasRenderingContext2D,
  [x, y, z]: Vec3,
  { radius, height }: { readonly radius: number; readonly height: number },
  project: Project,
  line: number,
  fill: number,
): void {
  const centres = [y + radius, y + Math.max(radius, height - radius)].map((up): Vec3 => [x, up, z]);
  const [bottom, top] = centres.map(project);
  if (!bottom || !top) return;
  const [low, high] = centres.map((centre) => radiusOn(centre, radius, project));
  // From above the two circles lie on each other, and there is no side between them.
  const [dx, dy] = [top[0] - bottom[0], top[1] - bottom[1]];
  const way = Math.hypot(dx, dy);
  const angle = way < 1 ? -Math.PI / 2 : Math.atan2(dy, dx);
  canvas.beginPath();
  canvas.arc(bottom[0], bottom[1], low, angle + Math.PI / 2, angle - Math.PI / 2);
  canvas.arc(top[0], top[1], high, angle - Math.PI / 2, angle + Math.PI / 2);
  canvas.closePath();
  canvas.globalAlpha = fill;
  canvas.fill();
  canvas.globalAlpha = line;
  canvas.lineWidth = 1.2;
  canvas.stroke();
}

/** Pixels that a radius takes up: the longest of its three directions, whichever way the view looks. */
function radiusOn(centre: Vec3, radius: number, project: Project): number {
  const at = project(centre);
  if (!at) return 0;
  return Math.max(
    ...[0, 1, 2].map((axis) => {
      const aside = project(centre.map((value, each) => (each === axis ? value + radius : value)) as unknown as Vec3);
      return aside ? Math.hypot(aside[0] - at[0], aside[1] - at[1]) : 0;
    }),
  );
}
