/** An entry as the directory at the end of a zip tells of it. */
export interface ZipEntry {
  readonly name: string;
  readonly isEncrypted: boolean;
  /** 0: stored, 8: deflated. */
  readonly method: number;
  readonly crc: number;
  readonly packedBytes: number;
  readonly bytes: number;
  /** Where its local header starts. */
  readonly headerAt: number;
  /** Where its content starts and ends. */
  readonly start: number;
  readonly end: number;
}

const END_MARK = 0x06054b50;
const END64_LOCATOR_MARK = 0x07064b50;
const END64_MARK = 0x06064b50;
const ENTRY_MARK = 0x02014b50;
const LOCAL_MARK = 0x04034b50;
const END_BYTES = 22;
const ENTRY_BYTES = 46;
const LOCAL_BYTES = 30;
const MOST_COMMENT_BYTES = 0xffff;
const IN_EXTRA = 0xffffffff;

/**
 * Entries of a zip in the order of its directory. Every offset is checked against the file before it is used.
 * Source: APPNOTE 6.3.10, sections 4.3.7, 4.3.12, 4.3.14 to 4.3.16, 4.5.3 (zip64).
 * @throws {RangeError} with words for a person where the directory does not hold.
 */
export function readZipDirectory(bytes: Uint8Array): ZipEntry[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const { count, at: first } = findDirectory(view);
  const entries: ZipEntry[] = [];
  for (let index = 0, at = first; index < count; index++) {
    const { entry, next } = readEntry(bytes, view, at);
    entries.push(entry);
    at = next;
  }
  return entries;
}

/**
 * Two entries that share bytes of the archive, or null. No tool writes that; it is how a small file is made to unpack
 * to a large one.
 */
export function findOverlap(entries: readonly ZipEntry[]): readonly [ZipEntry, ZipEntry] | null {
  const sorted = [...entries].sort((a, b) => a.headerAt - b.headerAt);
  for (let index = 1; index < sorted.length; index++) {
    if (sorted[index].headerAt < sorted[index - 1].end) return [sorted[index - 1], sorted[index]];
  }
  return null;
}

function findDirectory(view: DataView): { count: number; at: number } {
  const lowest = Math.max(0, view.byteLength - END_BYTES - MOST_COMMENT_BYTES);
  let end = view.byteLength - END_BYTES;
  while (end >= lowest && view.getUint32(end, true) !== END_MARK) end--;
  if (end < lowest) throw new RangeError('its directory is missing');
  const count = view.getUint16(end + 10, true);
  const at = view.getUint32(end + 16, true);
  if (count !== 0xffff && at !== IN_EXTRA) return { count, at };
  const locator = end - 20;
  if (locator < 0 || view.getUint32(locator, true) !== END64_LOCATOR_MARK) return { count, at };
  const end64 = Number(view.getBigUint64(locator + 8, true));
  if (end64 + 56 > view.byteLength || view.getUint32(end64, true) !== END64_MARK) {
    throw new RangeError('its directory points outside of it');
  }
  return { count: Number(view.getBigUint64(end64 + 32, true)), at: Number(view.getBigUint64(end64 + 48, true)) };
}

function readEntry(bytes: Uint8Array, view: DataView, at: number): { entry: ZipEntry; next: number } {
  if (at + ENTRY_BYTES > bytes.length || view.getUint32(at, true) !== ENTRY_MARK) {
    throw new RangeError('its directory is damaged');
  }
  const flags = view.getUint16(at + 8, true);
  const nameAt = at + ENTRY_BYTES;
  const extraAt = nameAt + view.getUint16(at + 28, true);
  const commentAt = extraAt + view.getUint16(at + 30, true);
  const next = commentAt + view.getUint16(at + 32, true);
  if (next > bytes.length) throw new RangeError('its directory is cut off');
  const name = decodeName(bytes.subarray(nameAt, extraAt), (flags & 0x800) !== 0);
  const narrow = [view.getUint32(at + 24, true), view.getUint32(at + 20, true), view.getUint32(at + 42, true)];
  const [size, packedBytes, headerAt] = widen(view, narrow, extraAt, commentAt);
  if (headerAt + LOCAL_BYTES > bytes.length || view.getUint32(headerAt, true) !== LOCAL_MARK) {
    throw new RangeError(`"${name.slice(0, 100)}" is not where the directory says`);
  }
  const start = headerAt + LOCAL_BYTES + view.getUint16(headerAt + 26, true) + view.getUint16(headerAt + 28, true);
  const end = start + packedBytes;
  if (end > bytes.length) throw new RangeError(`"${name.slice(0, 100)}" reaches past its end`);
  const method = view.getUint16(at + 10, true);
  const crc = view.getUint32(at + 16, true);
  return {
    entry: { name, isEncrypted: (flags & 1) !== 0, method, crc, packedBytes, bytes: size, headerAt, start, end },
    next,
  };
}

/** Values that need more than four bytes stand in an extra field, in the order size, packed size, offset. */
function widen(view: DataView, narrow: readonly number[], from: number, to: number): number[] {
  if (!narrow.includes(IN_EXTRA)) return [...narrow];
  for (let at = from; at + 4 <= to; at += 4 + view.getUint16(at + 2, true)) {
    if (view.getUint16(at, true) !== 1) continue;
    let wide = at + 4;
    return narrow.map((value) => {
      if (value !== IN_EXTRA) return value;
      if (wide + 8 > to) throw new RangeError('its directory is damaged');
      wide += 8;
      return Number(view.getBigUint64(wide - 8, true));
    });
  }
  return [...narrow];
}

function decodeName(bytes: Uint8Array, isUtf8: boolean): string {
  try {
    return new TextDecoder('utf-8', { fatal: !isUtf8 }).decode(bytes);
  } catch {
    return new TextDecoder('latin1').decode(bytes);
  }
}
