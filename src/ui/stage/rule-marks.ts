/** A mark of the rule beside a figure. */
interface RuleMark {
  /** Above the floor, metres. */
  readonly metres: number;
  readonly text: string;
}

/** Marks stand at least this far apart on the screen. */
const LEAST_PIXELS = 44;

/**
 * Marks from the floor to at least the crown, in the smallest step of 1, 2 or 5 times a power of ten that leaves room
 * between them: metres for people and giants, centimetres and millimetres for what is small.
 */
export function ruleMarks(heightMetres: number, pixelsPerMetre: number): RuleMark[] {
  if (!(heightMetres > 0) || !(pixelsPerMetre > 0) || !Number.isFinite(pixelsPerMetre)) return [];
  const step = stepFor(LEAST_PIXELS / pixelsPerMetre);
  const count = Math.max(1, Math.ceil(heightMetres / step - 1e-9));
  const write = writerFor(step);
  return Array.from({ length: count + 1 }, (_, at) => ({ metres: at * step, text: write(at * step) }));
}

/** The smallest 1, 2 or 5 times a power of ten that is at least so much. */
function stepFor(least: number): number {
  const power = 10 ** Math.floor(Math.log10(least));
  const factor = [1, 2, 5, 10].find((each) => each * power >= least * (1 - 1e-9)) ?? 10;
  return factor * power;
}

function writerFor(step: number): (metres: number) => string {
  if (step >= 0.1) return (metres) => `${metres.toFixed(step >= 1 ? 0 : 1)} m`;
  if (step >= 0.01) return (metres) => `${(metres * 100).toFixed(0)} cm`;
  const digits = Math.max(0, -Math.floor(Math.log10(step * 1000) + 1e-9));
  return (metres) => `${(metres * 1000).toFixed(digits)} mm`;
}

/** A length with as many digits as it needs: "1.69 m", "68.3 m", "7.0 mm". */
export function lengthText(metres: number): string {
  if (metres >= 10) return `${metres.toFixed(1)} m`;
  if (metres >= 0.5) return `${metres.toFixed(2)} m`;
  return metres >= 0.05 ? `${(metres * 100).toFixed(1)} cm` : `${(metres * 1000).toFixed(1)} mm`;
}
