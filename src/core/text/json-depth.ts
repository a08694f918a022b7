/**
 * Whether brackets of a JSON text nest deeper than a limit, outside of strings. Parsing what nests a million deep takes
 * long and exhausts the stack of everything that walks it; this stops where it is seen.
 */
export function nestsDeeper(text: string, limit: number): boolean {
  let [depth, isInString] = [0, false];
  for (let at = 0; at < text.length; at++) {
    const code = text.charCodeAt(at);
    if (isInString) {
      if (code === 92) at++;
      else if (code === 34) isInString = false;
    } else if (code === 34) isInString = true;
    else if (code === 123 || code === 91) {
      if (++depth > limit) return true;
    } else if (code === 125 || code === 93) depth--;
  }
  return false;
}
