import { randomUUID } from 'node:crypto';
import { Op, type Transaction } from 'sequelize';
import type { CharacterState, IntakeOutcome, Added } from '@/contract/character-view';
import { YarvoError, type Problem } from '@/core/errors/yarvo-error';
import { initialFit } from '@/core/fit/fit';
import { NO_DECISIONS, type IntakeDecisions } from '@/core/intake/decisions';
import { MAX_FILE_BYTES } from '@/formats/gltf/glb-container';
import { lastPart, type SourceFile } from '@/formats/files/companions';
import { isZip } from '@/formats/source/source-format';
import { blobHashOf, putBlob } from '../blobs/blob-store';
import { models } from '../database/models';
import { inTransaction } from '../database/transaction';
import { studioDefinition } from '../library/studio';
import { currentBasis, readUpload, type PreparedReading, type Subject } from '../matches/matched-reading';
import { countReading, yardsticksOf } from '../fits/assess-reading';
import { findCurrentFit, insertFit } from '../fits/fit-repository';
import { runListContents } from '../work/pool';
import { problemFor } from '../log/problem-for';
import { processWide } from '../settings/process-wide';
import { deleteCharacter } from './delete-character';
import { freeName, insertCharacter } from '../characters/character-repository';
import { insertSourceFiles } from '../characters/source-files';
import { assertName, distinctFiles, nameFrom } from '../characters/upload-paths';

export interface IntakeRequest {
  readonly files: readonly SourceFile[];
  readonly author: string;
  /** Ends the work; nothing of the upload is kept then. */
  readonly signal?: AbortSignal;
}

/** Files of one upload, all together. */
const MAX_UPLOAD_FILES = 2_000;
/** A sender who got no answer tries again within minutes. */
const AGAIN_WITHIN_MS = 10 * 60_000;

/** Characters of uploads that are on their way in this process: their senders still wait for an answer. */
const onTheirWay = processWide('characters on their way', () => new Set<string>());

/** What became of an upload, and what to call once its sender was told. */
export interface Arrival {
  readonly outcome: IntakeOutcome;
  /** Until then the characters count as unanswered: the same file sent again is offered them. */
  readonly answered: () => Promise<void>;
  /** The sender is gone and was not told: sent again, the file is offered what is there. */
  readonly unanswered: () => void;
}

/**
 * Adds the files of an upload: one character for each model in it, all other files as its companions. A model that cannot be
 * read leaves no trace; the others are kept.
 * @throws {YarvoError} where nothing of the upload can be read; `cancelled` where the sender ended it, nothing kept.
 */
export async function receive({ files, author, signal }: IntakeRequest): Promise<Arrival> {
  const given = distinctFiles(files);
  const place = given[0]?.path ?? 'upload';
  const total = given.reduce((sum, file) => sum + file.bytes.length, 0);
  if (total > MAX_FILE_BYTES)
    throw new YarvoError({
      code: 'too-large',
      message: `The upload is larger than ${MAX_FILE_BYTES / 1024 / 1024} MB.`,
      place,
      remedy: 'Reduce its textures or split it.',
    });
  if (given.length > MAX_UPLOAD_FILES)
    throw new YarvoError({
      code: 'too-many',
      message: `${given.length} files at once; ${MAX_UPLOAD_FILES} is the limit.`,
      place,
      remedy: 'Add them a folder at a time.',
    });
  const { models: paths } = await runListContents(given, place, signal);
  if (paths.length === 0)
    throw new YarvoError({
      code: 'no-model',
      message: 'None of the files holds a model.',
      place,
      remedy: 'Drop a glTF, GLB, VRM, FBX, COLLADA or BVH file, or a zip with one.',
    });
  const characters: Added[] = [];
  const refused: { path: string; problem: Problem }[] = [];
  const unanswered = () => characters.forEach(({ id }) => onTheirWay.delete(id));
  try {
    for (const main of paths) {
      signal?.throwIfAborted();
      try {
        characters.push(await addModel(main, companionsOf(main, paths, given), author, signal));
      } catch (error) {
        signal?.throwIfAborted();
        refused.push({ path: main, problem: problemFor(error, main) });
      }
    }
    signal?.throwIfAborted();
  } catch (error) {
    await takeBack(characters).finally(unanswered);
    throw signal?.aborted ? cancelled(place) : error;
  }
  if (characters.length === 0) throw new YarvoError(refused[0].problem);
  const answered = async () => {
    await markAnswered(characters.map(({ id }) => id));
    unanswered();
  };
  return { outcome: { characters, refused }, answered, unanswered };
}

/** The same for a sender who is told at once. @throws {YarvoError} */
export async function addFiles(request: IntakeRequest): Promise<IntakeOutcome> {
  const { outcome, answered } = await receive(request);
  await answered();
  return outcome;
}

const cancelled = (place: string): YarvoError =>
  new YarvoError({
    code: 'cancelled',
    message: 'Cancelled; nothing was kept.',
    place,
    remedy: 'Drop the file again if it is wanted.',
  });

/** What this upload made goes again: nobody has seen it yet. What was there before it stays. */
async function takeBack(characters: readonly Added[]): Promise<void> {
  for (const { id, isAlreadyThere } of characters) if (!isAlreadyThere) await deleteCharacter(id, { withPacks: false });
}

async function markAnswered(ids: readonly string[]): Promise<void> {
  await models().Character.update({ answeredAt: new Date() }, { where: { id: [...ids], answeredAt: null } });
}

/** A single file as one character. @throws {YarvoError} */
export async function addFile({
  bytes,
  fileName,
  author,
}: {
  bytes: Uint8Array;
  fileName: string;
  author: string;
}): Promise<Added> {
  return (await addFiles({ files: [{ path: fileName, bytes }], author })).characters[0];
}

/** Other models of the upload are no companions, unless they share a zip with this one. */
function companionsOf(main: string, models: readonly string[], files: readonly SourceFile[]): SourceFile[] {
  return files.filter((file) => file.path === main || !models.includes(file.path));
}

async function addModel(
  main: string,
  files: readonly SourceFile[],
  author: string,
  signal: AbortSignal | undefined,
): Promise<Added> {
  assertName(main);
  const holder = files.find((file) => file.path === main) ?? files.find((file) => isZip(file.bytes)) ?? files[0];
  const blobHash = blobHashOf(holder.bytes);
  const there = await findUnanswered(blobHash, main);
  if (there) return { ...there, isAlreadyThere: true };
  const known = await earlierDecisions(blobHash, main);
  const definition = await studioDefinition();
  const subject = {
    basis: await currentBasis(),
    definitionId: definition.id,
    definitionVersion: definition.version,
  };
  const { reading, decisions } = await readWith(files, main, subject, known?.decisions ?? NO_DECISIONS, signal);
  const { rig, match, portrait } = reading.record;
  const provenance = isEmpty(decisions.provenance) ? rig.source.provenance : decisions.provenance;
  const fit = initialFit(match, definition, { ...decisions, provenance }, subject.basis);
  const counts = countReading(reading.record, fit, await yardsticksOf(fit));
  const { doubts } = counts;
  const state: CharacterState = doubts > 0 || !match.creature.isHumanoid ? 'needs a look' : 'new';
  const fileName = lastPart(main);
  return inTransaction(async (transaction) => {
    signal?.throwIfAborted();
    const id = randomUUID();
    await putBlob(holder.bytes, transaction);
    const name = await freeName(nameFrom(fileName), transaction);
    const now = new Date();
    const twin = await findRecentTwin(blobHash, main, transaction);
    await insertCharacter(
      {
        id,
        name,
        fileName,
        blobHash,
        mainPath: main,
        joinedInto: null,
        state,
        kind: rig.kind,
        bones: rig.bones.length,
        isHumanoid: match.creature.isHumanoid,
        portrait,
        createdBy: author,
        createdAt: now,
        archivedAt: null,
        answeredAt: null,
        isPart: false,
      },
      transaction,
    );
    await insertSourceFiles(id, files, author, transaction);
    await reading.keep?.(id, transaction);
    const description =
      known && decisions !== NO_DECISIONS ? `first pass, with the intake decisions of ${known.name}` : 'first pass';
    await insertFit(
      { characterId: id, definitionId: definition.id, state: fit, description, ...counts, author, at: now },
      transaction,
    );
    onTheirWay.add(id);
    return { id, name, fileName, ...(twin && { sameAs: twin }) };
  });
}

/** A character of the same file whose sender was never told of it, since Yarvo ended before it could answer. */
async function findUnanswered(blobHash: string, main: string): Promise<Added | null> {
  const rows = await models().Character.findAll({
    where: {
      blobHash,
      mainPath: main,
      answeredAt: null,
      archivedAt: null,
      createdAt: { [Op.gt]: new Date(Date.now() - AGAIN_WITHIN_MS) },
    },
    order: [['createdAt', 'DESC']],
  });
  const row = rows.find(({ id }) => !onTheirWay.has(id));
  return row ? { id: row.id, name: row.name, fileName: row.fileName } : null;
}

/** A character that was made of the same file a moment ago: probably the same drop, twice. */
async function findRecentTwin(
  blobHash: string,
  main: string,
  transaction: Transaction,
): Promise<Added['sameAs'] | null> {
  const row = await models().Character.findOne({
    where: {
      blobHash,
      mainPath: main,
      archivedAt: null,
      createdAt: { [Op.gt]: new Date(Date.now() - AGAIN_WITHIN_MS) },
    },
    order: [['createdAt', 'DESC']],
    transaction,
  });
  return row && { id: row.id, name: row.name };
}

const isEmpty = (provenance: IntakeDecisions['provenance']): boolean =>
  Object.values(provenance).every((text) => text === '');

/** Decisions made about the same bytes before are made again; where they no longer fit, the file is read as found. */
async function readWith(
  files: readonly SourceFile[],
  main: string,
  subject: Omit<Subject, 'intake'>,
  decisions: IntakeDecisions,
  signal: AbortSignal | undefined,
): Promise<{ reading: PreparedReading; decisions: IntakeDecisions }> {
  const readAs = async (intake: IntakeDecisions) => ({
    reading: await readUpload(files, main, { ...subject, intake }, signal),
    decisions: intake,
  });
  if (decisions !== NO_DECISIONS) {
    try {
      return await readAs(decisions);
    } catch (error) {
      if (!(error instanceof YarvoError)) throw error;
      signal?.throwIfAborted();
    }
  }
  return readAs(NO_DECISIONS);
}

/** Decisions of the character that was read from the same file last. Parts and supplied files did not come along, so they are not repeated. */
async function earlierDecisions(
  blobHash: string,
  main: string,
): Promise<{ name: string; decisions: IntakeDecisions } | null> {
  const earlier = await models().Character.findOne({
    where: { blobHash, mainPath: main },
    order: [['createdAt', 'DESC']],
  });
  const fit = earlier && (await findCurrentFit(earlier.id));
  return fit && { name: earlier.name, decisions: { ...fit.state.intake, parts: [], supplied: [] } };
}
