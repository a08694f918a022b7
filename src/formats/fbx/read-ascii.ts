import { FBX_LIMITS, fbxError, type FbxFile, type FbxNode, type FbxValue } from './fbx-tree';

/**
 * The record tree of a text file: `Name: value, value { children }`, comments after `;`.
 * @throws {YarvoError} naming the line.
 */
export function readAsciiFbx(text: string, file: string): FbxFile {
  const reader = new AsciiReader(text, file);
  const roots = reader.list(0, true);
  const header = roots.find((node) => node.name === 'FBXHeaderExtension');
  const version = Number(header?.children.find((node) => node.name === 'FBXVersion')?.values[0] ?? NaN);
  if (roots.length === 0 || !Number.isFinite(version))
    throw fbxError(
      'not-fbx',
      'This text states no FBX version.',
      `${file}, line 1`,
      'Export as FBX 7.4 or glTF 2.0 and drop that file.',
    );
  return { version, encoding: 'ASCII', roots };
}

const SPACE = 32;
const isSpace = (code: number): boolean => code <= SPACE;

class AsciiReader {
  private at = 0;
  private line = 1;
  private count = 0;

  constructor(
    private readonly text: string,
    private readonly file: string,
  ) {}

  private get place(): string {
    return `${this.file}, line ${this.line}`;
  }

  private fail(message: string): never {
    throw fbxError('bad-text', message, this.place);
  }

  /** Skips blanks and comments. */
  private skip(): void {
    for (; this.at < this.text.length; this.at++) {
      const code = this.text.charCodeAt(this.at);
      if (code === 10) this.line++;
      else if (code === 59) {
        const end = this.text.indexOf('\n', this.at);
        this.at = (end < 0 ? this.text.length : end) - 1;
      } else if (!isSpace(code)) return;
    }
  }

  list(depth: number, isTop: boolean): FbxNode[] {
    if (depth > FBX_LIMITS.depth)
      throw fbxError('too-deep', `Records are nested more than ${FBX_LIMITS.depth} deep.`, this.place);
    const nodes: FbxNode[] = [];
    for (;;) {
      this.skip();
      if (this.at >= this.text.length) {
        if (!isTop)
          throw fbxError(
            'truncated',
            'The file ends inside a record.',
            this.place,
            'Copy or export the file again; it was cut off.',
          );
        return nodes;
      }
      if (this.text[this.at] === '}') {
        if (isTop) this.fail('A "}" closes nothing.');
        this.at++;
        return nodes;
      }
      nodes.push(this.node(depth));
    }
  }

  private node(depth: number): FbxNode {
    if (++this.count > FBX_LIMITS.nodes)
      throw fbxError('too-many', `More than ${FBX_LIMITS.nodes} records.`, this.place);
    const place = this.place;
    const start = this.at;
    while (this.at < this.text.length && /[A-Za-z0-9_|-]/.test(this.text[this.at])) this.at++;
    const name = this.text.slice(start, this.at);
    if (!name || this.text[this.at] !== ':')
      this.fail(`A record's name and ":" are expected, not "${this.text.slice(start, start + 20).split('\n')[0]}".`);
    this.at++;
    const values = this.values();
    let children: FbxNode[] = [];
    this.skipBlanks();
    if (this.text[this.at] === '{') {
      this.at++;
      children = this.list(depth + 1, false);
    }
    // "*12 { a: 1,2 ... }" is how text files write arrays.
    if (typeof values[0] === 'string' && /^\*\d+$/.test(values[0]) && children.length <= 1) {
      return { name, values: [children[0]?.values.map(Number) ?? []], children: [], place };
    }
    return { name, values, children, place };
  }

  private skipBlanks(): void {
    while (this.at < this.text.length && isSpace(this.text.charCodeAt(this.at)) && this.text.charCodeAt(this.at) !== 10)
      this.at++;
  }

  /** Values up to the end of the line or "{"; a comma at the end of a line goes on with the next. */
  private values(): FbxValue[] {
    const values: FbxValue[] = [];
    for (;;) {
      this.skipBlanks();
      const letter = this.text[this.at];
      if (letter === undefined || letter === '\n' || letter === '{' || letter === '}' || letter === ';') return values;
      // Embedded pictures start their list with an empty value.
      if (letter === ',' && values.length === 0) {
        this.at++;
        this.skip();
        continue;
      }
      values.push(letter === '"' ? this.quoted() : this.word());
      this.skipBlanks();
      // A long list may break before or after its comma.
      if (this.text[this.at] !== ',' && !this.goesOn()) return values;
      if (this.text[this.at] === ',') this.at++;
      this.skip();
    }
  }

  private goesOn(): boolean {
    const here = this.at;
    const line = this.line;
    this.skip();
    if (this.text[this.at] === ',') return true;
    [this.at, this.line] = [here, line];
    return false;
  }

  private quoted(): string {
    const end = this.text.indexOf('"', this.at + 1);
    if (end < 0) this.fail('A quote is not closed.');
    const value = this.text.slice(this.at + 1, end);
    for (let at = value.indexOf('\n'); at >= 0; at = value.indexOf('\n', at + 1)) this.line++;
    this.at = end + 1;
    return value.replaceAll('&quot;', '"').replaceAll('&cr;', '\r').replaceAll('&lf;', '\n');
  }

  private word(): FbxValue {
    const start = this.at;
    for (; this.at < this.text.length; this.at++) {
      const code = this.text.charCodeAt(this.at);
      if (isSpace(code) || code === 44 || code === 123 || code === 125) break;
    }
    const word = this.text.slice(start, this.at);
    if (word === '') this.fail(`A value is expected, not "${this.text[start] ?? 'the end'}".`);
    const value = Number(word);
    if (!Number.isNaN(value))
      return Number.isInteger(value) && !Number.isSafeInteger(value) && /^-?\d+$/.test(word) ? BigInt(word) : value;
    return word;
  }
}
