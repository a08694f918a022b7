import { foldText, tokenise } from './tokenise';
import type { Meaning } from './concepts';
import { SHIPPED_DIALECT, type DialectData } from './dialect-data';

/** Word lists compiled for look-up. Building one takes a millisecond or two; build once and share. */
export interface Dialect {
  readonly meanings: ReadonlyMap<string, Meaning>;
  /** Each word with one letter left out -> the word, for finding typing errors (Garbe's symmetric delete). */
  readonly deletions: ReadonlyMap<string, string>;
  readonly modifiers: ReadonlyMap<string, 'upper' | 'lower'>;
  readonly left: ReadonlySet<string>;
  readonly right: ReadonlySet<string>;
  readonly letterPairs: readonly (readonly [string, string])[];
  readonly longestWord: number;
}

/** Shorter words have too many neighbours one letter away ("hand", "band"). */
export const MIN_FUZZY_LENGTH = 5;

export function compileDialect(data: DialectData): Dialect {
  const meanings = new Map<string, Meaning>();
  for (const list of data.lists) {
    for (const [words, meaning] of list.entries) {
      for (const word of words.split(/\s+/)) {
        const key = foldText(word);
        // Lists that disagree about a word both count, each as far as it says.
        const known = meanings.get(key);
        meanings.set(key, known ? strongest(known, meaning) : meaning);
      }
    }
  }
  const deletions = new Map<string, string>();
  for (const word of meanings.keys()) {
    if (word.length < MIN_FUZZY_LENGTH) continue;
    for (let at = 0; at < word.length; at++) {
      const shorter = word.slice(0, at) + word.slice(at + 1);
      if (!deletions.has(shorter)) deletions.set(shorter, word);
    }
  }
  return {
    meanings,
    deletions,
    modifiers: new Map(Object.entries(data.modifiers)),
    left: new Set(data.left.map(foldText)),
    right: new Set(data.right.map(foldText)),
    letterPairs: data.letterPairs,
    longestWord: Math.max(0, ...[...meanings.keys()].map((word) => word.length)),
  };
}

function strongest(a: Meaning, b: Meaning): Meaning {
  const merged: Record<string, number> = { ...a };
  for (const [concept, weight] of Object.entries(b)) merged[concept] = Math.max(merged[concept] ?? 0, weight);
  return merged;
}

let shipped: Dialect | undefined;

/** All shipped languages together. */
export function shippedDialect(): Dialect {
  shipped ??= compileDialect(SHIPPED_DIALECT);
  return shipped;
}

/** The dialect with a rig's own side marks in place of those it knows; separators around a mark do not count. */
export function withSideMarks(
  dialect: Dialect,
  marks: { readonly left: string; readonly right: string } | null,
): Dialect {
  if (!marks) return dialect;
  const plain = (mark: string) =>
    tokenise(mark)
      .map((token) => token.text)
      .join('') || foldText(mark);
  return { ...dialect, left: new Set([plain(marks.left)]), right: new Set([plain(marks.right)]), letterPairs: [] };
}
