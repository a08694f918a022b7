export { shortenMiddle } from '@/core/text/shorten';

/** "needs a look" -> "Needs a look": a value of the code where it stands by itself. */
export const capitalised = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** One decimal; what rounds to nothing has no sign. */
export const degreesText = (rad: number): string => `${(Math.round((rad * 1800) / Math.PI) / 10 + 0).toFixed(1)}°`;
/** "−32.5°"; with `hasPlus` also "+5°", and whole numbers without a decimal, as a step is said. */
export function signedDegrees(degrees: number, hasPlus: boolean): string {
  const rounded = Math.round(degrees * 10) / 10 + 0;
  const digits = hasPlus && Number.isInteger(rounded) ? 0 : 1;
  return `${rounded < 0 ? '−' : hasPlus ? '+' : ''}${Math.abs(rounded).toFixed(digits)}°`;
}
export const centimetresText = (metres: number): string => `${(metres * 100).toFixed(1)} cm`;
/** Rounded, but never to a certainty that is not one. */
export const percentText = (share: number): string =>
  share < 1 && share >= 0.995 ? '> 99 %' : `${Math.round(share * 100)} %`;

/** "23 Nov, 14:05" in the reader's zone. */
export const momentText = (iso: string): string =>
  new Date(iso).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });

export function bytesText(bytes: number): string {
  if (bytes < 1024) return `${bytes} B`;
  return bytes < 1024 * 1024 ? `${(bytes / 1024).toFixed(0)} KB` : `${(bytes / 1024 / 1024).toFixed(1)} MB`;
}
