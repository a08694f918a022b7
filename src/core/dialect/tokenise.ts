/** One piece of a bone's name. `text` is lower case without diacritics; `start` its offset in the name as given. */
export interface Token {
  readonly text: string;
  readonly isNumber: boolean;
  readonly start: number;
}

const IS_ASCII = /^[\x20-\x7e]*$/;
const COMBINING_LATIN = /[\u0300-\u036f]/g;

/** Lower case, compatibility forms folded, Latin diacritics removed; kana keep their voicing marks. */
export function foldText(text: string): string {
  // Most names are plain ASCII, where folding is lower case and nothing else.
  if (IS_ASCII.test(text)) return text.toLowerCase();
  const folded = text.normalize('NFKC').toLowerCase().normalize('NFD').replace(COMBINING_LATIN, '').normalize('NFC');
  return folded.replaceAll('ß', 'ss').replaceAll('ł', 'l').replaceAll('ø', 'o').replaceAll('æ', 'ae');
}

/** UTF-8 read as Latin-1 ("HÃ¼fte") put right; any other text unchanged. */
export function repairMojibake(name: string): string {
  if (!/[ÃÂ][\u0080-\u00bf]/.test(name)) return name;
  const bytes = Uint8Array.from([...name].map((char) => char.charCodeAt(0) & 0xff));
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return name;
  }
}

type CharClass = 'upper' | 'lower' | 'digit' | 'han' | 'kana' | 'separator';

function classOf(char: string): CharClass {
  if (char >= 'a' && char <= 'z') return 'lower';
  if (char >= 'A' && char <= 'Z') return 'upper';
  if (char >= '0' && char <= '9') return 'digit';
  if (char <= '~') return 'separator';
  if (/\p{Nd}/u.test(char)) return 'digit';
  if (/\p{Script=Han}/u.test(char)) return 'han';
  if (/[\p{Script=Hiragana}\p{Script=Katakana}ー]/u.test(char)) return 'kana';
  if (/\p{Lu}/u.test(char)) return 'upper';
  if (/\p{L}|\p{M}/u.test(char)) return 'lower';
  return 'separator';
}

/** Splits a name at separators, case changes, digits and script changes: "gtLeftArm_01" -> gt, left, arm, 01. */
export function tokenise(name: string): Token[] {
  const chars = [...repairMojibake(name)];
  const classes = chars.map(classOf);
  const tokens: Token[] = [];
  let start = 0;
  const flush = (end: number) => {
    if (end > start && classes[start] !== 'separator') {
      tokens.push({ text: foldText(chars.slice(start, end).join('')), isNumber: classes[start] === 'digit', start });
    }
    start = end;
  };
  for (let at = 1; at <= chars.length; at++) {
    if (at === chars.length || isBoundary(classes, at)) flush(at);
  }
  return tokens;
}

function isBoundary(classes: readonly CharClass[], at: number): boolean {
  const [before, here] = [classes[at - 1], classes[at]];
  // "IKTarget": the last capital of a run starts the next word; "Arm": a capital and what follows are one word.
  if (before === here) return here === 'upper' && classes[at + 1] === 'lower';
  return !(before === 'upper' && here === 'lower');
}
