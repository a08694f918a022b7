/** A morph target of a figure that stands for one that an engine drives. */
export interface MorphMatch {
  readonly wanted: string;
  readonly own: string;
  /** 0 to 1: share of the words that both names have. */
  readonly confidence: number;
  readonly evidence: string;
  readonly origin: 'match' | 'person';
}

/** What a person said of wanted targets: one of the figure's own, or null for none. */
export type MorphChoices = Readonly<Record<string, string | null>>;

/** Below this two names are of different targets. */
const LEAST = 0.7;

/** Words for one thing, in the languages that files come in; the first is what they are compared by. */
const SAME: readonly (readonly string[])[] = [
  ['left', 'l', 'lf', 'links', 'gauche', 'izquierda', 'sinistra', 'hidari'],
  ['right', 'r', 'rt', 'rechts', 'droite', 'droit', 'derecha', 'destra', 'migi'],
  ['eye', 'eyes', 'eyelid', 'lid', 'auge', 'augen', 'oeil', 'yeux', 'ojo', 'ojos', 'occhio', 'occhi', 'me'],
  ['brow', 'brows', 'eyebrow', 'braue', 'brauen', 'sourcil', 'ceja', 'sopracciglio', 'mayu'],
  ['mouth', 'lips', 'lip', 'mund', 'bouche', 'boca', 'bocca', 'kuchi'],
  ['jaw', 'kiefer', 'machoire', 'mandibula', 'mascella', 'ago'],
  ['cheek', 'cheeks', 'wange', 'joue', 'mejilla', 'guancia', 'hoho'],
  ['nose', 'nase', 'nez', 'nariz', 'naso', 'hana'],
  ['tongue', 'zunge', 'langue', 'lengua', 'lingua', 'shita'],
  ['blink', 'close', 'closed', 'shut', 'zu', 'geschlossen', 'ferme', 'cerrado', 'chiuso', 'mabataki'],
  ['open', 'offen', 'auf', 'ouvert', 'abierto', 'aperto'],
  ['smile', 'happy', 'joy', 'laecheln', 'sourire', 'sonrisa', 'sorriso', 'warai'],
  ['frown', 'sad', 'sorrow', 'traurig', 'triste', 'kanashii'],
  ['angry', 'anger', 'wuetend', 'colere', 'enfado', 'rabbia', 'okori'],
  ['wide', 'surprised', 'weit', 'large', 'ancho', 'largo'],
  ['up', 'raise', 'raised', 'hoch', 'haut', 'arriba', 'su', 'ue'],
  ['down', 'lower', 'runter', 'bas', 'abajo', 'giu'],
  ['in', 'inner', 'innen', 'interieur'],
  ['out', 'outer', 'aussen', 'exterieur'],
  ['pucker', 'kiss', 'kuss', 'bisou', 'beso', 'bacio'],
];
const MEANING = new Map(SAME.flatMap(([first, ...others]) => [first, ...others].map((word) => [word, first] as const)));

/** Words that say that it is a target, not which. */
const EMPTY_WORDS = new Set(['morph', 'target', 'shape', 'key', 'expression', 'exp', 'face', 'facial', 'the']);

/** "eyeBlink_L" -> blink, eye, left. Numbers stay: targets in a row differ by them alone. */
function wordsOf(name: string): Set<string> {
  const parts = name
    .normalize('NFKD')
    .replace(/[\u0300-\u036f]/g, '')
    .replace(/([a-z0-9])([A-Z])/g, '$1 $2')
    .replace(/([A-Za-z])([0-9])/g, '$1 $2')
    .toLowerCase()
    .split(/[^a-z0-9\u3040-\u30ff\u4e00-\u9fff]+/)
    .filter((part) => part !== '' && !EMPTY_WORDS.has(part));
  return new Set(parts.map((part) => MEANING.get(part) ?? part.replace(/^0+(?=\d)/, '')));
}

/** Dice's coefficient of two sets of words. */
function alike(a: ReadonlySet<string>, b: ReadonlySet<string>): number {
  const shared = [...a].filter((word) => b.has(word)).length;
  return a.size + b.size === 0 ? 0 : (2 * shared) / (a.size + b.size);
}

/**
 * Maps the morph targets of a figure onto those that an engine drives, best pairs first, each once. Sides and numbers
 * that differ are different targets. Deterministic: equal pairs in the order of the wanted names. What a person chose
 * stands; a target of theirs that the figure does not have is looked for anew.
 */
export function mapMorphs(own: readonly string[], wanted: readonly string[], choices: MorphChoices = {}): MorphMatch[] {
  const isChosen = (name: string): boolean => {
    const choice = choices[name];
    return choice === null || (choice !== undefined && own.includes(choice));
  };
  const chosen = wanted.flatMap((name): MorphMatch[] => {
    const choice = choices[name];
    if (!isChosen(name) || typeof choice !== 'string') return [];
    return [{ wanted: name, own: choice, confidence: 1, evidence: 'set by hand', origin: 'person' }];
  });
  const taken = new Set(chosen.map((match) => match.own));
  const found = matchNames(
    own.filter((name) => !taken.has(name)),
    wanted.filter((name) => !isChosen(name)),
  );
  return [...chosen, ...found].sort((a, b) => wanted.indexOf(a.wanted) - wanted.indexOf(b.wanted));
}

function matchNames(own: readonly string[], wanted: readonly string[]): MorphMatch[] {
  const ownWords = own.map(wordsOf);
  const pairs = wanted.flatMap((name, order) => {
    const words = wordsOf(name);
    return own.flatMap((each, at) => {
      const theirs = ownWords[at];
      const isSame = each === name;
      const clashes = ['left', 'right'].some((side) => words.has(side) !== theirs.has(side));
      const confidence = isSame ? 1 : clashes ? 0 : alike(words, theirs);
      return confidence >= LEAST ? [{ order, at, wanted: name, own: each, confidence, words, theirs }] : [];
    });
  });
  const taken = { own: new Set<number>(), wanted: new Set<number>() };
  return pairs
    .sort((a, b) => b.confidence - a.confidence || a.order - b.order || a.at - b.at)
    .filter(({ order, at }) => {
      if (taken.own.has(at) || taken.wanted.has(order)) return false;
      taken.own.add(at);
      taken.wanted.add(order);
      return true;
    })
    .sort((a, b) => a.order - b.order)
    .map(({ wanted: name, own: each, confidence, words, theirs }) => ({
      wanted: name,
      own: each,
      confidence,
      evidence:
        each === name ? 'the same name' : `both say ${[...words].filter((word) => theirs.has(word)).join(', ')}`,
      origin: 'match' as const,
    }));
}
