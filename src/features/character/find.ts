/** Something that can be gone to or done. */
export interface Find {
  readonly kind: string;
  readonly text: string;
  readonly detail: string;
  readonly run: () => void;
}

const MOST = 60;

/** Those that hold every word of what was typed, those that start with it first, then shorter names; all without a word. */
export function rankFinds(finds: readonly Find[], typed: string): readonly Find[] {
  const wanted = typed.trim().toLowerCase();
  const words = wanted.split(/\s+/);
  const rank = (text: string) =>
    text === wanted
      ? 0
      : text.startsWith(wanted)
        ? 1
        : text.split(/[\s_.:-]+/).some((part) => part.startsWith(words[0]))
          ? 2
          : 3;
  const found = finds.flatMap((find, order) => {
    const text = find.text.toLowerCase();
    const all = `${find.kind} ${text} ${find.detail.toLowerCase()}`;
    return words.every((word) => all.includes(word))
      ? [{ find, order, rank: rank(text), length: wanted === '' ? 0 : text.length }]
      : [];
  });
  return found
    .sort((a, b) => a.rank - b.rank || a.length - b.length || a.order - b.order)
    .slice(0, MOST)
    .map(({ find }) => find);
}
