import type { Side } from '../definition/definition';
import { isAbove } from '../rig/bone-tree';
import type { Dialect } from './dialect';
import { foldText, type Token } from './tokenise';

export interface SideMark {
  readonly side: Side | null;
  /** Which token holds the mark, -1 for none. */
  readonly tokenIndex: number;
  /** What is left of that token when the mark was glued to a word ("larm" -> "arm"). */
  readonly rest: string | null;
}

const NO_MARK: SideMark = { side: null, tokenIndex: -1, rest: null };
/** A pair of unknown marks must recur on this many bones before it is believed. */
const MIN_PAIR_COUNT = 3;

/**
 * Finds each name's side mark. Words such as "left" count by themselves; single letters and marks of other habits
 * count when the rig shows them in pairs: two names that differ in that one token only.
 */
export function learnSideMarks(
  tokens: readonly (readonly Token[])[],
  dialect: Dialect,
  common: ReadonlySet<string>,
  parents?: ArrayLike<number>,
): { marks: SideMark[] } {
  const letters = learnLetterPairs(tokens, dialect, common, parents);
  const leftMarks = new Set([...dialect.left, ...letters.left]);
  const rightMarks = new Set([...dialect.right, ...letters.right]);
  return { marks: tokens.map((list) => markOf(list, leftMarks, rightMarks, dialect, common)) };
}

function markOf(
  tokens: readonly Token[],
  left: ReadonlySet<string>,
  right: ReadonlySet<string>,
  dialect: Dialect,
  common: ReadonlySet<string>,
): SideMark {
  let found: SideMark = NO_MARK;
  let foundLength = 0;
  tokens.forEach((token, tokenIndex) => {
    if (token.isNumber || common.has(token.text)) return;
    const side = left.has(token.text) ? 'left' : right.has(token.text) ? 'right' : null;
    // "l_arm_r_hand" is rare, "r" beside "left" is not: the longer mark wins, the first among equals.
    if (side && token.text.length > foundLength) {
      found = { side, tokenIndex, rest: null };
      foundLength = token.text.length;
    }
  });
  if (foundLength > 0) return found;
  for (let tokenIndex = 0; tokenIndex < tokens.length; tokenIndex++) {
    const token = tokens[tokenIndex];
    if (token.isNumber || common.has(token.text)) continue;
    const glued = gluedMark(token.text, left, right, dialect);
    if (glued) return { ...glued, tokenIndex };
  }
  return NO_MARK;
}

/** "leftarm", "armleft", "larm", "左腕": a mark at either end of a word whose rest is a known word. */
function gluedMark(
  word: string,
  left: ReadonlySet<string>,
  right: ReadonlySet<string>,
  dialect: Dialect,
): { side: Side; rest: string } | null {
  if (dialect.meanings.has(word)) return null;
  for (const [side, marks] of [
    ['left', left],
    ['right', right],
  ] as const) {
    for (const mark of marks) {
      if (mark.length >= word.length) continue;
      const candidates: string[] = [];
      if (word.startsWith(mark)) candidates.push(word.slice(mark.length));
      if (word.endsWith(mark)) candidates.push(word.slice(0, -mark.length));
      for (const rest of candidates) {
        const isLongMark = mark.length >= 4 || !/^[a-z]+$/.test(mark);
        if (isLongMark || isKnown(rest, dialect)) return { side, rest };
      }
    }
  }
  return null;
}

const isKnown = (word: string, dialect: Dialect): boolean =>
  word.length >= 3 && (dialect.meanings.has(word) || dialect.modifiers.has(word));

/** Marks known only as pairs ("g" and "d"), accepted where the rig's names pair up through them. */
function learnLetterPairs(
  tokens: readonly (readonly Token[])[],
  dialect: Dialect,
  common: ReadonlySet<string>,
  parents?: ArrayLike<number>,
): { left: string[]; right: string[] } {
  const wanted = dialect.letterPairs.map(([left, right]) => [foldText(left), foldText(right)] as const);
  const counts = new Map<string, number>();
  const byKey = new Map<string, { text: string; bone: number }[]>();
  const interesting = new Set(wanted.flat());
  tokens.forEach((list, bone) => {
    list.forEach((token, at) => {
      if (!interesting.has(token.text)) return;
      const key = list.map((other, index) => (index === at ? '*' : other.text)).join(' ');
      const group = byKey.get(key) ?? [];
      group.push({ text: token.text, bone });
      byKey.set(key, group);
    });
  });
  for (const group of byKey.values()) {
    for (const [left, right] of wanted) {
      const a = group.find((entry) => entry.text === left);
      const b = group.find((entry) => entry.text === right);
      if (a && b && !(parents && (isAbove(parents, a.bone, b.bone) || isAbove(parents, b.bone, a.bone)))) {
        counts.set(`${left} ${right}`, (counts.get(`${left} ${right}`) ?? 0) + 1);
      }
    }
  }
  // A rig that shows plain words for its sides needs no guessing from letters.
  const plain = tokens.filter((list) =>
    list.some((token) => !common.has(token.text) && (dialect.left.has(token.text) || dialect.right.has(token.text))),
  ).length;
  const best = [...counts]
    .filter(([, count]) => count >= MIN_PAIR_COUNT)
    .sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1))[0];
  if (!best || best[1] * 2 <= plain) return { left: [], right: [] };
  const [left, right] = best[0].split(' ');
  return { left: [left], right: [right] };
}
