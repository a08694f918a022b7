import { shortenMiddle } from './shorten';

/** Longer names than this are shortened; browsers cut texts of 65,536 characters in two. */
const LONGEST_SHOWN = 1_000;
const CONTROL_PICTURES = 0x2400;
const REPLACEMENT = '\ufffd';

/**
 * A text from a file as it can be shown: what has no look of its own gets one, so that a name cannot hide or turn round
 * what stands beside it, and so that every browser reads it from a page as it was written there.
 */
export function shownText(text: string): string {
  // Shortened first: a cut may part a pair of surrogates.
  return shortenMiddle(text, LONGEST_SHOWN)
    .replace(/[\0-\x1f]/g, (letter) => String.fromCharCode(CONTROL_PICTURES + letter.charCodeAt(0)))
    .replace(/[\p{Cc}\p{Cf}\p{Cs}\p{Zl}\p{Zp}\uffff\ufffe]/gu, REPLACEMENT);
}

/** A plain structure with every text in it as it can be shown, keys left alone; the parts that need no change are the same. */
export function shownTexts<Value>(value: Value): Value {
  if (typeof value === 'string') return shownText(value) as Value;
  if (Array.isArray(value)) {
    const shown = value.map(shownTexts);
    return (shown.every((item, index) => item === value[index]) ? value : shown) as Value;
  }
  if (typeof value !== 'object' || value === null) return value;
  const entries = Object.entries(value);
  const shown = entries.map(([key, item]) => [key, shownTexts(item)] as const);
  return shown.every(([, item], index) => item === entries[index][1]) ? value : (Object.fromEntries(shown) as Value);
}
