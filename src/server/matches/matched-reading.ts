import { LRUCache } from 'lru-cache';
import type { Transaction } from 'sequelize';
import type { Definition } from '@/core/definition/definition';
import type { DialectData } from '@/core/dialect/dialect-data';
import { YarvoError } from '@/core/errors/yarvo-error';
import type { Basis, FitState } from '@/core/fit/fit';
import type { FirstPass } from '@/core/match/first-pass';
import type { SourceFile } from '@/formats/files/companions';
import type { MatchReport } from '@/pipeline/match';
import { MATCHER_VERSION, READER_VERSION } from '@/pipeline/versions';
import { blobHashOf, getBlob } from '../blobs/blob-store';
import type { CharacterRecord } from '../characters/character-repository';
import { loadSourceFiles, type FreshFile } from '../characters/source-files';
import { models, type MatchRow, type ReadingRow } from '../database/models';
import { inTransaction } from '../database/transaction';
import { entry } from '../library/library';
import { studioDialect } from '../library/studio';
import { blockHash } from '../readings/blocks';
import { decisionsKey } from '../readings/decisions-key';
import {
  contentKey,
  findReading,
  findSameReading,
  insertReading,
  parseReading,
  readingRow,
  type ReadingName,
  type ReadingRecord,
} from '../readings/readings';
import { processWide } from '../settings/process-wide';
import { runIntake, runMatch, type IntakeResult } from '../work/pool';

/** A reading with what one matcher saw in it, for one definition and dialect. */
export interface MatchedReading extends ReadingRecord, FirstPass {
  readonly portrait: string;
  /** Roughly what it takes in memory: caches are bounded by it. */
  readonly bytes: number;
}

/** A reading that is at hand, and how it is kept where it is new. */
export interface PreparedReading {
  readonly record: MatchedReading;
  /** Keeps it for a character, within the transaction of what wants it; null where it is kept already. */
  readonly keep: ((characterId: string, transaction: Transaction) => Promise<void>) | null;
  /** Its mesh, encoded; null where it was lost. Left out by who has the reading alone. */
  readonly geometry?: () => Promise<Uint8Array | null>;
}

/** The part of a fit that says which reading and match it speaks of. */
export type Subject = Pick<FitState, 'intake' | 'basis' | 'definitionId' | 'definitionVersion'>;

type Owner = Pick<CharacterRecord, 'id' | 'mainPath'>;

/** What is read and matched today. */
export async function currentBasis(): Promise<Basis> {
  const { id, version } = await studioDialect();
  return { reader: READER_VERSION, matcher: MATCHER_VERSION, dialect: `${id}@${version}` };
}

/** Parsing one once serves many requests; those that nobody asked for longest go first. */
const MOST_CACHED_BYTES = 192 * 1024 * 1024;
/** Shared by the whole process: what is removed must be gone for all. */
const parsed = processWide(
  'readings',
  () =>
    new LRUCache<string, MatchedReading>({
      maxSize: MOST_CACHED_BYTES,
      maxEntrySize: MOST_CACHED_BYTES,
      sizeCalculation: ({ bytes }) => bytes,
    }),
);
/** Requests for the same reading at the same moment share one. */
const underway = new Map<string, Promise<PreparedReading>>();

function remember(cacheKey: string, record: MatchedReading): MatchedReading {
  parsed.set(cacheKey, record);
  return record;
}

/** One that is at hand but not kept would never be kept again. */
export function forgetReadings(characterId: string): void {
  for (const key of [...parsed.keys()]) if (key.startsWith(`${characterId} `)) parsed.delete(key);
}

/** What a match is found under. */
type MatchName = Omit<MatchRow, 'firstPass' | 'portrait' | 'createdAt'>;

interface Wanted {
  readonly subject: Subject;
  readonly definition: Definition;
  readonly dialect: DialectData;
}

async function wantedFor(subject: Subject): Promise<Wanted> {
  const [dialectId, dialectVersion] = subject.basis.dialect.split('@');
  const [definition, dialect] = await Promise.all([
    entry('definition', subject.definitionId, subject.definitionVersion),
    entry('dialect', dialectId, Number(dialectVersion)),
  ]);
  return { subject, definition, dialect };
}

const readingName = (characterId: string, { intake, basis }: Subject): ReadingName => ({
  characterId,
  decisionsKey: decisionsKey(intake),
  readerVersion: basis.reader,
});

const matchName = (characterId: string, { subject, definition }: Wanted): MatchName => ({
  ...readingName(characterId, subject),
  definitionId: definition.id,
  definitionVersion: definition.version,
  dialect: subject.basis.dialect,
  matcherVersion: subject.basis.matcher,
});

/**
 * The reading that a fit speaks of, with its match; from the database or made by a worker. What is made is not kept yet.
 * @param fresh files that a change is about to add to the character.
 * @throws {YarvoError} where the decisions do not fit the files; `reader-gone` where only an older reader could make it.
 */
export async function prepareReading(
  owner: Owner,
  subject: Subject,
  fresh: readonly FreshFile[] = [],
): Promise<PreparedReading> {
  const wanted = await wantedFor(subject);
  const cacheKey = `${owner.id} ${JSON.stringify(matchName(owner.id, wanted))}`;
  const known = parsed.get(cacheKey);
  const geometry = () => geometryOf(readingName(owner.id, wanted.subject));
  if (known) return { record: known, keep: null, geometry };
  // Files that are about to come may differ under one path: such a reading is nobody else's.
  if (fresh.length > 0) return findOrMake(owner, wanted, fresh, cacheKey);
  const running = underway.get(cacheKey);
  if (running) return running;
  const made = findOrMake(owner, wanted, fresh, cacheKey).finally(() => underway.delete(cacheKey));
  underway.set(cacheKey, made);
  return made;
}

async function findOrMake(
  owner: Owner,
  wanted: Wanted,
  fresh: readonly FreshFile[],
  cacheKey: string,
): Promise<PreparedReading> {
  const reading = await findReading(readingName(owner.id, wanted.subject));
  if (reading) {
    const match = await models().Match.findOne({ where: matchName(owner.id, wanted) });
    if (match)
      return { record: remember(cacheKey, parseBoth(reading, match)), keep: null, geometry: () => geometryOf(reading) };
    return matchKept(reading, wanted);
  }
  const files = await loadSourceFiles(owner.id, wanted.subject.intake.supplied, fresh);
  return readFiles(files, owner.mainPath, wanted);
}

/** A kept reading that no match of this kind is kept of. */
async function matchKept(reading: ReadingRow, wanted: Wanted): Promise<PreparedReading> {
  assertNewest(wanted.subject.basis, 'matcher');
  const record = parseReading(reading);
  const { definition, dialect, subject } = wanted;
  const tracks = record.rig.clips.length > 0 ? await tracksOf(reading) : null;
  const report = await runMatch({ rig: record.rig, decisions: subject.intake, definition, dialect, tracks });
  return {
    record: { ...record, ...report, bytes: bytesOf(reading) },
    keep: (characterId, transaction) => insertMatch(matchName(characterId, wanted), report, transaction),
    geometry: () => geometryOf(reading),
  };
}

/** Mesh of a kept reading. */
async function geometryOf({ characterId, decisionsKey: key, readerVersion }: ReadingName): Promise<Uint8Array | null> {
  const hash = await blockHash({ characterId, decisionsKey: key, readerVersion }, 'geometry');
  return hash ? getBlob(hash) : null;
}

/** Motion of a kept reading. */
async function tracksOf({ characterId, decisionsKey: key, readerVersion }: ReadingRow): Promise<Uint8Array | null> {
  const hash = await blockHash({ characterId, decisionsKey: key, readerVersion }, 'tracks');
  return hash ? getBlob(hash) : null;
}

/**
 * Reads files that belong to nobody yet, or not under these decisions; equal files that were read before are not read
 * again.
 * @throws {YarvoError}
 */
export async function readUpload(
  files: readonly SourceFile[],
  mainPath: string,
  subject: Subject,
  signal?: AbortSignal,
): Promise<PreparedReading> {
  return readFiles(files, mainPath, await wantedFor(subject), signal);
}

async function readFiles(
  files: readonly SourceFile[],
  main: string,
  wanted: Wanted,
  signal?: AbortSignal,
): Promise<PreparedReading> {
  const { definition, dialect, subject } = wanted;
  const hashed = files.map(({ path, bytes }) => ({ path, blobHash: blobHashOf(bytes) }));
  const key = contentKey(hashed, main, subject.intake, subject.basis.reader);
  const same = await findSameReading(key);
  const match = same && (await models().Match.findOne({ where: matchName(same.characterId, wanted) }));
  if (same && match) return reuse(same, match, wanted);
  assertNewest(subject.basis, 'reader');
  assertNewest(subject.basis, 'matcher');
  const made: IntakeResult = await runIntake({ files, main, decisions: subject.intake, definition, dialect }, signal);
  const row = (characterId: string) => readingRow(readingName(characterId, subject), key, made);
  const { match: found, normalisation, portrait } = made;
  const unowned = row('');
  return {
    record: { ...parseReading(unowned), match: found, normalisation, portrait, bytes: bytesOf(unowned) },
    keep: async (characterId, transaction) => {
      await insertReading(row(characterId), made, transaction);
      await insertMatch(matchName(characterId, wanted), made, transaction);
    },
    geometry: () => Promise.resolve(made.geometry),
  };
}

/** What was read of equal files, for another character. */
function reuse(reading: ReadingRow, match: MatchRow, wanted: Wanted): PreparedReading {
  const record = parseBoth(reading, match);
  return {
    record,
    keep: async (characterId, transaction) => {
      const name = readingName(characterId, wanted.subject);
      const { contentKey: key, glbHash, geometryHash, tracksHash, rig, sheet, origins } = reading;
      const row = { ...name, contentKey: key, glbHash, geometryHash, tracksHash, rig, sheet, origins };
      await insertReading({ ...row, createdAt: new Date() }, null, transaction);
      await insertMatch(matchName(characterId, wanted), record, transaction);
    },
    geometry: () => geometryOf(reading),
  };
}

/** Code of an older version is gone: what it would make cannot be made any more. */
function assertNewest(basis: Basis, kind: 'reader' | 'matcher'): void {
  const newest = kind === 'reader' ? READER_VERSION : MATCHER_VERSION;
  if (basis[kind] === newest) return;
  throw new YarvoError({
    code: 'reader-gone',
    message: `This needs ${kind} ${basis[kind]}, and Yarvo has ${kind} ${newest} by now.`,
    place: 'fit',
    remedy: 'Accept what the newer one changes in the roster first.',
  });
}

/**
 * The reading that a fit speaks of, kept; made from the files again where it was collected.
 * @throws {YarvoError} where the decisions do not fit the files.
 */
export async function matchedReading(owner: Owner, subject: Subject): Promise<MatchedReading> {
  const { record, keep } = await prepareReading(owner, subject);
  if (keep) await inTransaction((transaction) => keep(owner.id, transaction));
  return record;
}

const parseBoth = (reading: ReadingRow, match: MatchRow): MatchedReading => ({
  ...parseReading(reading),
  ...(JSON.parse(match.firstPass) as FirstPass),
  portrait: match.portrait,
  bytes: bytesOf(reading, match),
});

/** Objects take some times as much as the text that they are parsed from. */
const bytesOf = ({ rig, sheet }: ReadingRow, match?: MatchRow): number =>
  3 * (rig.length + sheet.length + (match?.firstPass.length ?? Math.ceil(rig.length / 2)));

async function insertMatch(name: MatchName, report: MatchReport, transaction: Transaction): Promise<void> {
  const { match, normalisation, portrait } = report;
  const firstPass = JSON.stringify({ match, normalisation });
  await models().Match.upsert({ ...name, firstPass, portrait, createdAt: new Date() }, { transaction });
}
