import { lengthText } from './rule-marks';
import type { OverlayTheme } from './overlay-types';
import type { Pane } from './pane';
import type { PaneView } from './projection';
import { addLine } from './skeleton-overlay';

const LABELS: Readonly<Record<PaneView, string>> = { front: 'Front', side: 'Side', top: 'Top', free: 'Free' };

/** Where the rule stands, pixels from the left of its pane. */
const RULE_X = 52;

/** A vertical rule beside the figure, from the floor it stands on, and its height from there to its crown. */
export function drawRule(
  canvas: CanvasRenderingContext2D,
  { marks, crownY }: Pick<Pane, 'marks' | 'crownY'>,
  heightMetres: number,
  theme: OverlayTheme,
): void {
  if (marks.length === 0) return;
  canvas.strokeStyle = theme.quiet;
  canvas.fillStyle = theme.quiet;
  canvas.lineWidth = 1;
  canvas.font = '12px "Source Sans 3 Variable", sans-serif';
  canvas.textBaseline = 'middle';
  canvas.textAlign = 'right';
  canvas.beginPath();
  addLine(canvas, RULE_X, marks[0].y, RULE_X, marks[marks.length - 1].y);
  addLine(canvas, RULE_X, crownY, RULE_X + 8, crownY);
  for (const { y } of marks) addLine(canvas, RULE_X - 4, y, RULE_X, y);
  canvas.stroke();
  for (const { y, text } of marks) canvas.fillText(text, RULE_X - 7, y);
  canvas.textAlign = 'left';
  canvas.fillText(lengthText(heightMetres), RULE_X + 11, crownY);
}

/** The border of a pane and the name of its view. */
export function drawPaneFrame(canvas: CanvasRenderingContext2D, { rect, view }: Pane, theme: OverlayTheme): void {
  canvas.strokeStyle = theme.quiet;
  canvas.globalAlpha = 0.35;
  canvas.lineWidth = 1;
  canvas.strokeRect(0.5, 0.5, rect.width - 1, rect.height - 1);
  canvas.globalAlpha = 1;
  canvas.fillStyle = theme.quiet;
  canvas.font = '13px "Source Sans 3 Variable", sans-serif';
  canvas.textAlign = 'right';
  canvas.textBaseline = 'top';
  canvas.fillText(LABELS[view], rect.width - 10, 8);
  canvas.textAlign = 'left';
}
