import type { Side } from '../definition/definition';
import { isBodyConcept, type BodyConcept, type Concept, type Meaning, type OtherConcept } from './concepts';
import { MIN_FUZZY_LENGTH, type Dialect } from './dialect';
import { learnSideMarks } from './learn-side-marks';
import { tokenise, type Token } from './tokenise';

/** What a bone's name says, once prefix and side mark are taken off. */
export interface NameReading {
  readonly side: Side | null;
  /** Body parts the name can mean, with weights 0 to 1; empty when it says nothing. */
  readonly body: Partial<Record<BodyConcept, number>>;
  /** Things it says that are no role: twist, tip, helper, cloth ... */
  readonly other: Partial<Record<OtherConcept, number>>;
  readonly modifier: 'upper' | 'lower' | null;
  readonly numbers: readonly number[];
  /** The words that were understood, for evidence a person reads. */
  readonly words: readonly string[];
  /** The name of another bone with a word more that says nothing ("arm" beside "arm x"): a helper of that one, as a rule. */
  readonly isVariant: boolean;
  /** Name with its side mark replaced by `*`: equal for the two bones of a pair. */
  readonly pairKey: string;
}

export interface NameReadings {
  readonly bones: readonly NameReading[];
  /** Characters at the start of each name that belong to the rig's common prefix. */
  readonly prefixLengths: readonly number[];
  /** Share of bones whose name says something. */
  readonly meaningfulShare: number;
}

/** A token in at least this share of the names says nothing about a single bone: it is the rig's habit. */
const COMMON_TOKEN_SHARE = 0.6;
const COMMON_SIDE_SHARE = 0.7;
const MIN_BONES_FOR_COMMON = 6;

/** Reads all names of one rig together: prefixes and side marks are learned from what the names have in common. */
export function readNames(names: readonly string[], dialect: Dialect, parents?: ArrayLike<number>): NameReadings {
  const tokens = withoutSerials(names.map(tokenise));
  const common = findCommonTokens(tokens, dialect);
  const sides = learnSideMarks(tokens, dialect, common, parents);
  const cache = new Map<string, TokenMeaning | null>();
  const bones = markVariants(tokens.map((list, bone) => readOne(list, common, sides.marks[bone], dialect, cache)));
  const meaningful = bones.filter((reading) => reading.words.length > 0).length;
  return {
    bones: loosenTrunkWord(bones),
    prefixLengths: tokens.map((list, bone) => prefixLength(list, common, names[bone])),
    meaningfulShare: names.length > 0 ? meaningful / names.length : 0,
  };
}

/** Share of the names that must end in a number of their own for these to be serial numbers. */
const SERIAL_SHARE = 0.9;

/** Some exporters number all bones through at the end of their names: such a number counts no segment. */
function withoutSerials(tokens: readonly (readonly Token[])[]): readonly (readonly Token[])[] {
  if (tokens.length < MIN_BONES_FOR_COMMON) return tokens;
  const serials = tokens
    .map((list) => (list.length > 1 ? list[list.length - 1] : undefined))
    .filter((token) => token?.isNumber);
  const distinct = new Set(serials.map((token) => Number(token?.text)));
  if (distinct.size < tokens.length * SERIAL_SHARE) return tokens;
  return tokens.map((list) => (list.length > 1 && list[list.length - 1].isNumber ? list.slice(0, -1) : list));
}

/** What the one word for a whole trunk is worth for the parts that have no word of their own. */
const LOOSE_TRUNK_WORD = 0.45;
/** Fewer bones of that word are a spine like any other. */
const MIN_TRUNK_RUN = 4;

/**
 * Some rigs call everything from hips to head "spine" and number it. Where no bone is called head (or none neck),
 * their word for the spine may mean any part of the trunk that has no word of its own.
 */
function loosenTrunkWord(bones: readonly NameReading[]): readonly NameReading[] {
  const isPlain = ({ side, other }: NameReading) => side === null && Object.keys(other).length === 0;
  const says = (part: BodyConcept) => bones.some((reading) => isPlain(reading) && (reading.body[part] ?? 0) >= 0.8);
  const isSpine = (reading: NameReading) => isPlain(reading) && (reading.body.spine ?? 0) >= 0.9;
  const wanting = (says('head') ? (['neck'] as const) : (['hips', 'neck', 'head'] as const)).filter(
    (part) => !says(part),
  );
  if (
    wanting.length === 0 ||
    bones.filter((reading) => isSpine(reading) && reading.numbers.length > 0).length < MIN_TRUNK_RUN
  )
    return bones;
  const loose = Object.fromEntries(wanting.map((part) => [part, LOOSE_TRUNK_WORD]));
  return bones.map((reading) => (isSpine(reading) ? { ...reading, body: { ...loose, ...reading.body } } : reading));
}

function findCommonTokens(tokens: readonly (readonly Token[])[], dialect: Dialect): ReadonlySet<string> {
  const common = new Set<string>();
  if (tokens.length < MIN_BONES_FOR_COMMON) return common;
  const letters = new Set(dialect.letterPairs.flat());
  const counts = new Map<string, number>();
  for (const list of tokens) {
    for (const text of new Set(list.filter((token) => !token.isNumber).map((token) => token.text))) {
      counts.set(text, (counts.get(text) ?? 0) + 1);
    }
  }
  for (const [text, count] of counts) {
    // A side mark stands on less than half of the bones; one on nearly all of them ("lt_") is a prefix.
    const isSide = dialect.left.has(text) || dialect.right.has(text) || letters.has(text);
    if (count >= tokens.length * (isSide ? COMMON_SIDE_SHARE : COMMON_TOKEN_SHARE)) common.add(text);
  }
  addCommonNumbers(tokens, common);
  return common;
}

/** A number that follows a common word throughout belongs to the prefix: "slt27:" counts nothing. */
function addCommonNumbers(tokens: readonly (readonly Token[])[], common: Set<string>): void {
  const counts = new Map<string, number>();
  for (const list of tokens) {
    const at = list.findIndex((token) => token.isNumber);
    if (at > 0 && common.has(list[at - 1].text))
      counts.set(numberKey(list, at), (counts.get(numberKey(list, at)) ?? 0) + 1);
  }
  for (const [key, count] of counts) if (count >= tokens.length * COMMON_TOKEN_SHARE) common.add(key);
}

const numberKey = (tokens: readonly Token[], at: number): string => `${tokens[at - 1]?.text} ${tokens[at].text}`;
const isCommon = (tokens: readonly Token[], at: number, common: ReadonlySet<string>): boolean =>
  tokens[at].isNumber ? common.has(numberKey(tokens, at)) : common.has(tokens[at].text);

function prefixLength(tokens: readonly Token[], common: ReadonlySet<string>, name: string): number {
  let at = 0;
  while (at < tokens.length && isCommon(tokens, at, common)) at++;
  if (at === 0) return 0;
  return at < tokens.length ? tokens[at].start : name.length;
}

/** A reading before it is compared with the rig's other names. */
interface ReadName extends NameReading {
  /** Words of the name that say nothing. */
  readonly unknown: readonly string[];
}

/** More unknown words than this are not taken apart. */
const MOST_UNKNOWN = 4;

function markVariants(readings: readonly ReadName[]): readonly NameReading[] {
  const keyOf = ({ side, words, numbers }: NameReading, unknown: readonly string[]) =>
    `${side} ${words.join(' ')} ${numbers.join(' ')} ${unknown.join(' ')}`;
  const names = new Set(readings.map((reading) => keyOf(reading, reading.unknown)));
  return readings.map(({ unknown, ...reading }) => {
    const isVariant =
      unknown.length > 0 &&
      unknown.length <= MOST_UNKNOWN &&
      partsOf(unknown).some((part) => names.has(keyOf(reading, part)));
    return isVariant ? { ...reading, isVariant } : reading;
  });
}

/** Every selection of the words that leaves at least one out, in order. */
const partsOf = (words: readonly string[]): string[][] =>
  Array.from({ length: 2 ** words.length - 1 }, (_, bits) => words.filter((_word, at) => (bits >> at) & 1));

interface TokenMeaning {
  readonly word: string;
  readonly meaning: Meaning;
  readonly modifier: 'upper' | 'lower' | null;
}

function readOne(
  tokens: readonly Token[],
  common: ReadonlySet<string>,
  mark: { side: Side | null; tokenIndex: number; rest: string | null },
  dialect: Dialect,
  cache: Map<string, TokenMeaning | null>,
): ReadName {
  const words: string[] = [];
  const numbers: number[] = [];
  tokens.forEach((token, at) => {
    if (at === mark.tokenIndex) {
      if (mark.rest) words.push(mark.rest);
    } else if (isCommon(tokens, at, common)) return;
    else if (token.isNumber) numbers.push(Number(token.text));
    else words.push(token.text);
  });
  const { found: meanings, unknown } = understand(words, dialect, cache);
  // A rig whose common token is itself a body word ("body", "arm" for a hand rig) keeps the fact out of single bones.
  const { body, other } = combine(meanings);
  const modifier = meanings.find((meaning) => meaning.modifier)?.modifier ?? null;
  return {
    side: mark.side,
    body,
    other,
    modifier,
    numbers,
    words: meanings.filter((meaning) => Object.keys(meaning.meaning).length > 0).map((meaning) => meaning.word),
    unknown,
    isVariant: false,
    pairKey: tokens.map((token, at) => (at === mark.tokenIndex ? `*${mark.rest ?? ''}` : token.text)).join(' '),
  };
}

/** Longest runs of adjacent words first, then single words, then words inside a word, then typing errors. */
function understand(
  words: readonly string[],
  dialect: Dialect,
  cache: Map<string, TokenMeaning | null>,
): { found: TokenMeaning[]; unknown: string[] } {
  const found: TokenMeaning[] = [];
  const unknown: string[] = [];
  let at = 0;
  while (at < words.length) {
    let taken = 0;
    for (let count = Math.min(4, words.length - at); count >= 2 && taken === 0; count--) {
      const joined = words.slice(at, at + count).join('');
      const meaning = dialect.meanings.get(joined);
      if (meaning) {
        found.push({ word: joined, meaning, modifier: modifierIn(words.slice(at, at + count), dialect) });
        taken = count;
      }
    }
    if (taken === 0) {
      const word = understandWord(words[at], dialect, cache);
      found.push(...word);
      // Words that are known to say nothing count as unknown ones do.
      if (word.every(({ meaning, modifier }) => !modifier && Object.keys(meaning).length === 0))
        unknown.push(words[at]);
      taken = 1;
    }
    at += taken;
  }
  return { found, unknown };
}

function modifierIn(words: readonly string[], dialect: Dialect): 'upper' | 'lower' | null {
  for (const word of words) {
    const modifier = dialect.modifiers.get(word);
    if (modifier) return modifier;
  }
  return words.some((word) => word.startsWith('upper'))
    ? 'upper'
    : words.some((word) => word.startsWith('lower'))
      ? 'lower'
      : null;
}

function understandWord(word: string, dialect: Dialect, cache: Map<string, TokenMeaning | null>): TokenMeaning[] {
  const known = lookUp(word, dialect);
  if (known) return [known];
  const pieces = splitCompound(word, dialect);
  if (pieces) return pieces;
  if (!cache.has(word)) cache.set(word, findMisspelt(word, dialect));
  const misspelt = cache.get(word);
  return misspelt ? [misspelt] : [];
}

function lookUp(word: string, dialect: Dialect): TokenMeaning | null {
  const meaning = dialect.meanings.get(word);
  if (meaning) return { word, meaning, modifier: modifierIn([word], dialect) };
  const modifier = dialect.modifiers.get(word);
  return modifier ? { word, meaning: {}, modifier } : null;
}

const isLatin = (text: string): boolean => /^[a-z]+$/.test(text);

/** A word made of known words ("lefthandthumb", "左腕"): fewest pieces, everything covered. Null if that cannot be done. */
function splitCompound(word: string, dialect: Dialect): TokenMeaning[] | null {
  if (word.length > 40) return null;
  const shortest = isLatin(word) ? 3 : 1;
  if (word.length < shortest * 2) return null;
  const best: (TokenMeaning[] | null)[] = [[]];
  for (let end = 1; end <= word.length; end++) {
    best[end] = null;
    for (let start = Math.max(0, end - dialect.longestWord); start <= end - shortest; start++) {
      const before = best[start];
      if (!before) continue;
      const piece = lookUp(word.slice(start, end), dialect);
      const soFar = best[end];
      if (piece && (!soFar || before.length + 1 < soFar.length)) best[end] = [...before, piece];
    }
  }
  return best[word.length];
}

/**
 * The known word one letter away (missing, extra, wrong or two swapped), at 80 % of its weight. A wrong letter in a word
 * of five makes another word as often as not ("joint", "point"), so there it counts only within a word for a body part.
 */
function findMisspelt(word: string, dialect: Dialect): TokenMeaning | null {
  if (word.length < MIN_FUZZY_LENGTH) return null;
  const accept = (known: string | undefined) =>
    known !== undefined && isLikely(word, known, dialect) ? known : undefined;
  let match = accept(dialect.deletions.get(word));
  for (let at = 0; at < word.length && !match; at++) {
    const shorter = word.slice(0, at) + word.slice(at + 1);
    if (shorter.length >= MIN_FUZZY_LENGTH && dialect.meanings.has(shorter)) match = shorter;
    else if (shorter.length >= MIN_FUZZY_LENGTH - 1) match = accept(dialect.deletions.get(shorter));
  }
  if (!match) return null;
  const meaning: Meaning = Object.fromEntries(
    Object.entries(dialect.meanings.get(match) ?? {}).map(([concept, weight]) => [concept, weight * 0.8]),
  );
  return { word: match, meaning, modifier: modifierIn([match], dialect) };
}

function isLikely(word: string, known: string, dialect: Dialect): boolean {
  const hasWrongLetter = word.length === known.length && lettersOf(word) !== lettersOf(known);
  if (word.length > MIN_FUZZY_LENGTH || !hasWrongLetter) return true;
  return (
    word[0] === known[0] &&
    Object.keys(dialect.meanings.get(known) ?? {}).every((concept) => isBodyConcept(concept as Concept))
  );
}

const lettersOf = (word: string): string => [...word].sort().join('');

/** Weight for a root of the words that name the skeleton itself. */
const WHOLE_THING = 0.7;
const DIGIT_CONCEPTS = ['thumb', 'index', 'middle', 'ring', 'little'] as const;

/** Puts the words of one name together: "hand index" is a finger, "upper" with "arm" is the upper arm. */
function combine(meanings: readonly TokenMeaning[]): Pick<NameReading, 'body' | 'other'> {
  const body: Partial<Record<BodyConcept, number>> = {};
  const other: Partial<Record<OtherConcept, number>> = {};
  let modifier: 'upper' | 'lower' | null = null;
  for (const { meaning, modifier: said } of meanings) {
    modifier ??= said;
    for (const [concept, weight] of Object.entries(meaning) as [Concept, number][]) {
      if (isBodyConcept(concept)) body[concept] = Math.max(body[concept] ?? 0, weight);
      else other[concept] = Math.max(other[concept] ?? 0, weight);
    }
  }
  applyModifier(body, modifier);
  if (DIGIT_CONCEPTS.some((digit) => (body[digit] ?? 0) > 0.7)) {
    keepOnly(body, [...DIGIT_CONCEPTS, 'toes']);
    if ((body.toes ?? 0) > 0.7) {
      // "toe thumb", "index toe": a digit of the foot.
      other.toeDigit = 1;
      keepOnly(body, ['toes']);
      body.toes = 0.2;
    }
    // "finger index": the plain word for finger must not dilute the one that says which.
    for (const digit of DIGIT_CONCEPTS) if ((body[digit] ?? 0) <= 0.7) delete body[digit];
  } else if ((body.finger ?? 0) > 0.7) keepOnly(body, [...DIGIT_CONCEPTS, 'finger']);
  else if ((body.hips ?? 0) >= 0.9 && (body.spine ?? 0) > 0 && meanings.length > 1) delete body.spine;
  // "neck base", "skeleton arm": where a body part is named too, it counts; the words for the whole thing say least.
  const least = (other.root ?? 0) > WHOLE_THING ? 0.9 : 0.6;
  if (other.root && Object.values(body).some((weight) => weight >= least)) delete other.root;
  return { body, other };
}

function applyModifier(body: Partial<Record<BodyConcept, number>>, modifier: 'upper' | 'lower' | null): void {
  if (!modifier) return;
  const [kept, dropped] = modifier === 'upper' ? (['upper', 'lower'] as const) : (['lower', 'upper'] as const);
  for (const limb of ['Arm', 'Leg'] as const) {
    const wanted = `${kept}${limb}` as BodyConcept;
    const unwanted = `${dropped}${limb}` as BodyConcept;
    if ((body[wanted] ?? 0) > 0 && (body[unwanted] ?? 0) > 0) {
      body[wanted] = 1;
      delete body[unwanted];
      delete body.shoulder;
    }
  }
}

function keepOnly(body: Partial<Record<BodyConcept, number>>, kept: readonly BodyConcept[]): void {
  for (const concept of Object.keys(body) as BodyConcept[]) if (!kept.includes(concept)) delete body[concept];
}
