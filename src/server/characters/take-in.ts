import { randomUUID } from 'node:crypto';
import { assessFit } from '@/core/assess/assess';
import type { CharacterState, IntakeOutcome, TakenIn } from '@/core/character/character-view';
import { countBlockers } from '@/core/checks/run-checks';
import { problemOf, YarvoError, type Problem } from '@/core/errors/yarvo-error';
import { countDoubts, initialFit } from '@/core/fit/fit';
import { NO_DECISIONS, type IntakeDecisions } from '@/core/intake/decisions';
import { MAX_FILE_BYTES } from '@/formats/gltf/glb-container';
import { lastPart, type SourceFile } from '@/formats/source/companions';
import { isZip } from '@/formats/source/source-format';
import { blobHashOf, putBlob } from '../blobs/blob-store';
import { database } from '../database/connection';
import { models } from '../database/models';
import { defaultDefinition, defaultProfile } from '../definitions';
import { findCurrentFit, insertFit } from '../fits/fit-repository';
import { runIntake, runListContents, type IntakeResult } from '../work/pool';
import { freeName, insertCharacter } from './character-repository';
import { insertInterpretation } from './interpretations';
import { insertSourceFiles } from './source-files';

export interface IntakeRequest {
  readonly files: readonly SourceFile[];
  readonly author: string;
}

/** Files of one upload, all together. */
export const MAX_UPLOAD_FILES = 2_000;

/**
 * Takes an upload in: one character for each model in it, all other files as its companions. A model that cannot be
 * read leaves no trace; the others are kept.
 * @throws {YarvoError} where nothing of the upload can be read.
 */
export async function takeIn({ files, author }: IntakeRequest): Promise<IntakeOutcome> {
  const given = files.map((file) => ({ ...file, path: plainPath(file.path) }));
  const place = given[0]?.path ?? 'upload';
  const total = given.reduce((sum, file) => sum + file.bytes.length, 0);
  if (total > MAX_FILE_BYTES) throw new YarvoError({ code: 'too-large', message: `The upload is larger than ${MAX_FILE_BYTES / 1024 / 1024} MB.`, place, remedy: 'Reduce its textures or split it.' });
  if (given.length > MAX_UPLOAD_FILES) throw new YarvoError({ code: 'too-many', message: `${given.length} files at once; ${MAX_UPLOAD_FILES} is the limit.`, place, remedy: 'Take them in a folder at a time.' });
  const { models: paths } = await runListContents(given, place);
  if (paths.length === 0) throw new YarvoError({ code: 'no-model', message: 'None of the files holds a model.', place, remedy: 'Drop a glTF, GLB, VRM, FBX, COLLADA or BVH file, or a zip with one.' });
  const characters: TakenIn[] = [];
  const refused: { path: string; problem: Problem }[] = [];
  for (const main of paths) {
    try {
      characters.push(await takeInModel(main, companionsOf(main, paths, given), author));
    } catch (error) {
      refused.push({ path: main, problem: problemOf(error, main) });
    }
  }
  if (characters.length === 0) throw new YarvoError(refused[0].problem);
  return { characters, refused };
}

/** A single file as one character. @throws {YarvoError} */
export async function takeInFile({ bytes, fileName, author }: { bytes: Uint8Array; fileName: string; author: string }): Promise<TakenIn> {
  return (await takeIn({ files: [{ path: fileName, bytes }], author })).characters[0];
}

/** Other models of the upload are no companions, unless they share a zip with this one. */
function companionsOf(main: string, models: readonly string[], files: readonly SourceFile[]): SourceFile[] {
  return files.filter((file) => file.path === main || !models.includes(file.path));
}

async function takeInModel(main: string, files: readonly SourceFile[], author: string): Promise<TakenIn> {
  const holder = files.find((file) => file.path === main) ?? files.find((file) => isZip(file.bytes)) ?? files[0];
  const known = await earlierDecisions(holder, main);
  const { result, decisions } = await readWith(files, main, known?.decisions ?? NO_DECISIONS);
  const { rig, match, normalisation, portrait } = result;
  const definition = defaultDefinition();
  const provenance = isEmpty(decisions.provenance) ? rig.source.provenance : decisions.provenance;
  const fit = initialFit(match, definition, { ...decisions, provenance });
  const { findings } = assessFit({ rig, match, normalisation, fit, definition, profile: defaultProfile() });
  const doubts = countDoubts(fit);
  const state: CharacterState = doubts > 0 || !match.creature.isHumanoid ? 'needs a look' : 'new';
  const id = randomUUID();
  const fileName = lastPart(main);
  return database().transaction(async (transaction) => {
    const blobHash = await putBlob(holder.bytes, transaction);
    const name = await freeName(nameFrom(fileName), transaction);
    const now = new Date();
    await insertCharacter({ id, name, fileName, blobHash, mainPath: main, joinedInto: null, state, kind: rig.kind, bones: rig.bones.length, isHumanoid: match.creature.isHumanoid, portrait, createdBy: author, createdAt: now }, transaction);
    await insertSourceFiles(id, files, author, transaction);
    await insertInterpretation(id, decisions, result, transaction);
    const description = known && decisions !== NO_DECISIONS ? `first pass, with the intake decisions of ${known.name}` : 'first pass';
    await insertFit({ characterId: id, definitionId: definition.id, state: fit, description, doubts, blockers: countBlockers(findings), author, at: now }, transaction);
    return { id, name, fileName };
  });
}

const isEmpty = (provenance: IntakeDecisions['provenance']): boolean => Object.values(provenance).every((text) => text === '');

/** Decisions made about the same bytes before are made again; where they no longer fit, the file is read as found. */
async function readWith(files: readonly SourceFile[], main: string, decisions: IntakeDecisions): Promise<{ result: IntakeResult; decisions: IntakeDecisions }> {
  if (decisions !== NO_DECISIONS) {
    try {
      return { result: await runIntake({ files, main, decisions }), decisions };
    } catch (error) {
      if (!(error instanceof YarvoError)) throw error;
    }
  }
  return { result: await runIntake({ files, main, decisions: NO_DECISIONS }), decisions: NO_DECISIONS };
}

/** Decisions of the character that was read from the same file last. Parts and supplied files did not come along, so they are not repeated. */
async function earlierDecisions(holder: SourceFile, main: string): Promise<{ name: string; decisions: IntakeDecisions } | null> {
  const earlier = await models().Character.findOne({ where: { blobHash: blobHashOf(holder.bytes), mainPath: main }, order: [['createdAt', 'DESC']] });
  const fit = earlier && (await findCurrentFit(earlier.id));
  return fit && { name: earlier.name, decisions: { ...fit.state.intake, parts: [], supplied: [] } };
}

/** Forward slashes, no way up, no drive: a label that never reaches the file system. */
function plainPath(path: string): string {
  const parts = path.replaceAll('\\', '/').split('/').filter((part) => part !== '' && part !== '.' && part !== '..' && !/^[A-Za-z]:$/.test(part));
  return parts.join('/').replace(/[\p{C}]/gu, '').slice(-280) || 'file';
}

/** "eel-seller.glb" -> "Eel seller". */
function nameFrom(fileName: string): string {
  const words = fileName.replace(/\.[A-Za-z0-9]{1,5}$/, '').replace(/[_\-.]+/g, ' ').trim() || 'Character';
  return (words[0].toUpperCase() + words.slice(1)).slice(0, 150);
}
