/** A regular expression, or null for what is none; that is told of its field. */
export function patternOf(text: string): RegExp | null {
  try {
    return new RegExp(text, 'u');
  } catch {
    return null;
  }
}
