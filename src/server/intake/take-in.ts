import { randomUUID } from 'node:crypto';
import { Op, type Transaction } from 'sequelize';
import type { Added, CharacterState, IntakeOutcome } from '@/contract/character-view';
import { YarvoError } from '@/core/errors/yarvo-error';
import { initialFit } from '@/core/fit/fit';
import { NO_DECISIONS, type IntakeDecisions } from '@/core/intake/decisions';
import { lastPart, type SourceFile } from '@/formats/files/companions';
import { isModel } from '@/core/intake/file-names';
import { skeletonSignature } from '@/core/rig/skeleton-signature';
import { isZip } from '@/formats/source/source-format';
import { blobHashOf, getBlobs } from '../blobs/blob-store';
import { freeName, insertCharacter } from '../characters/character-repository';
import { assertName, nameFrom } from '../characters/upload-paths';
import { models } from '../database/models';
import { inTransaction } from '../database/transaction';
import { countReading, yardsticksOf } from '../fits/assess-reading';
import { findCurrentFit, insertFit } from '../fits/fit-repository';
import { studioDefinition } from '../library/studio';
import { problemFor } from '../log/problem-for';
import { currentBasis, readUpload, type PreparedReading, type Subject } from '../matches/matched-reading';
import { listUploadFiles } from '../uploads/upload-repository';
import { runListContents } from '../work/pool';
import { deleteCharacter } from './delete-character';

/** A character that was made of the same file within this time was probably made of the same drop, twice. */
const TWIN_WITHIN_MS = 10 * 60_000;

const NOTHING: IntakeOutcome = { characters: [], refused: [] };

/** Who takes an upload in, and what follows it. */
export interface Taking {
  readonly author: string;
  /** What an earlier try made of it already. */
  readonly made?: IntakeOutcome;
  readonly signal?: AbortSignal;
  readonly report?: (share: number, stage: string) => void;
  /** Keeps what was made so far, within the transaction that makes it. */
  readonly keep?: (made: IntakeOutcome, transaction: Transaction) => Promise<void>;
}

/**
 * Makes a character of each model of an upload, with all other files as its companions. A model that cannot be read
 * leaves no trace; the others are kept.
 * @throws {YarvoError} where nothing of the upload can be read, or it was ended: then what was made stays for
 *   `takeBack`.
 */
export async function takeIn(uploadId: string, taking: Taking): Promise<IntakeOutcome> {
  const { signal, report } = taking;
  const files = await loadUpload(uploadId);
  const [refused] = taking.made?.refused ?? [];
  // It was refused and dropped before, and Yarvo ended before it could say so.
  if (files.length === 0 && refused) throw new YarvoError(refused.problem);
  const place = files[0]?.path ?? 'upload';
  const paths = await modelPaths(files, place, signal);
  if (paths.length === 0)
    throw new YarvoError({
      code: 'no-model',
      message: 'None of the files holds a model.',
      place,
      remedy: 'Drop a glTF, GLB, VRM, FBX, COLLADA or BVH file, or a zip with one.',
    });
  let made = taking.made ?? NOTHING;
  const isDone = (main: string) =>
    made.characters.some(({ path }) => path === main) || made.refused.some(({ path }) => path === main);
  for (const [at, main] of paths.entries()) {
    signal?.throwIfAborted();
    if (isDone(main)) continue;
    report?.(at / paths.length, paths.length > 1 ? `${at + 1} of ${paths.length}: ${lastPart(main)}` : '');
    try {
      made = await addModel(main, uploadId, files, made, taking);
    } catch (error) {
      signal?.throwIfAborted();
      if (!(error instanceof YarvoError)) throw error;
      made = { ...made, refused: [...made.refused, { path: main, problem: problemFor(error, main) }] };
      const now = made;
      await inTransaction(async (transaction) => taking.keep?.(now, transaction));
    }
  }
  if (made.characters.length === 0) throw new YarvoError(made.refused[0].problem);
  return made;
}

/** Paths of the models of an upload. Zips are opened in a worker, under its limits. */
async function modelPaths(
  files: readonly SourceFile[],
  place: string,
  signal: AbortSignal | undefined,
): Promise<readonly string[]> {
  if (files.some(({ bytes }) => isZip(bytes))) return (await runListContents(files, place, signal)).models;
  const found = files.map(({ path }) => path).filter(isModel);
  // What has no model's name may be one all the same: its reader says what it is.
  return found.length === 0 && files.length === 1 ? [files[0].path] : found;
}

/** What an upload made goes again: nobody has seen it yet. */
export async function takeBack({ characters }: IntakeOutcome): Promise<void> {
  for (const { id } of characters) await deleteCharacter(id, { withPacks: false });
}

async function loadUpload(uploadId: string): Promise<SourceFile[]> {
  const listed = await listUploadFiles(uploadId);
  const contents = await getBlobs(listed.map(({ blobHash }) => blobHash));
  return listed.map(({ path, blobHash }) => {
    const bytes = contents.get(blobHash);
    if (!bytes) throw new Error(`upload ${uploadId} has lost ${path}`);
    return { path, bytes };
  });
}

async function addModel(
  main: string,
  uploadId: string,
  all: readonly SourceFile[],
  made: IntakeOutcome,
  { author, signal, keep }: Taking,
): Promise<IntakeOutcome> {
  assertName(main);
  // Other models of the upload are no companions, unless they share a zip with this one.
  const files = all.filter(({ path }) => path === main || !isModel(path));
  const holder = files.find(({ path }) => path === main) ?? files.find(({ bytes }) => isZip(bytes)) ?? files[0];
  const blobHash = blobHashOf(holder.bytes);
  const known = await earlierDecisions(blobHash, main);
  const definition = await studioDefinition();
  const subject = { basis: await currentBasis(), definitionId: definition.id, definitionVersion: definition.version };
  const { reading, decisions } = await readWith(files, main, subject, known?.decisions ?? NO_DECISIONS, signal);
  const { rig, match, portrait } = reading.record;
  const provenance = isEmpty(decisions.provenance) ? rig.source.provenance : decisions.provenance;
  const fit = initialFit(match, definition, { ...decisions, provenance }, subject.basis);
  const counts = await countReading(reading.record, fit, await yardsticksOf(fit));
  const state: CharacterState = counts.doubts > 0 || !match.creature.isHumanoid ? 'needs a look' : 'new';
  const fileName = lastPart(main);
  return inTransaction(async (transaction) => {
    signal?.throwIfAborted();
    const id = randomUUID();
    const name = await freeName(nameFrom(fileName), transaction);
    const twin = await findRecentTwin(blobHash, main, transaction);
    const at = new Date();
    await insertCharacter(
      {
        id,
        name,
        fileName,
        blobHash,
        mainPath: main,
        uploadId,
        joinedInto: null,
        state,
        kind: rig.kind,
        bones: rig.bones.length,
        isHumanoid: match.creature.isHumanoid,
        portrait,
        createdBy: author,
        createdAt: at,
        archivedAt: null,
        isPart: false,
        skeleton: skeletonSignature(rig),
      },
      transaction,
    );
    await reading.keep?.(id, transaction);
    const description =
      known && decisions !== NO_DECISIONS ? `first pass, with the intake decisions of ${known.name}` : 'first pass';
    const { id: definitionId } = definition;
    await insertFit({ characterId: id, definitionId, state: fit, description, ...counts, author, at }, transaction);
    const added: Added = { id, name, fileName, path: main, ...(twin && { sameAs: twin }) };
    const now = { ...made, characters: [...made.characters, added] };
    await keep?.(now, transaction);
    return now;
  });
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
      createdAt: { [Op.gt]: new Date(Date.now() - TWIN_WITHIN_MS) },
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
