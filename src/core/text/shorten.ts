/** Shortens in the middle, so that both the family and the number of a bone's name stay readable. */
export function shortenMiddle(text: string, most: number): string {
  if (text.length <= most) return text;
  const tail = Math.floor((most - 1) * 0.55);
  return `${text.slice(0, most - 1 - tail)}…${text.slice(-tail)}`;
}
