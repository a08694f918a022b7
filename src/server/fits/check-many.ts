import type { CheckRow } from '@/contract/studio';
import { SEVERITIES } from '@/core/checks/finding';
import { problemOf } from '@/core/errors/yarvo-error';
import type { DrillResult } from '@/core/plan/drill-result';
import { findCharacters, type CharacterRecord } from '../characters/character-repository';
import { readRoster } from '../characters/roster';
import { matchedReading } from '../matches/matched-reading';
import { STUDIO } from '../library/studio';
import { drillResultsOfMany } from './drill-results';
import { assessReading, yardsticksOf } from './assess-reading';
import { findCurrentFits, type CurrentFit } from './fit-repository';

/** Characters that are asked for together: statements are as many as chunks, not as characters. */
const CHUNK = 25;

/** What the checks find on characters, one after another, so that nothing else waits long. @param profile for all, in place of their own. */
export async function* checkMany(ids: readonly string[], profile?: string): AsyncGenerator<CheckRow> {
  for (let from = 0; from < ids.length; from += CHUNK) {
    const subjects = await readSubjects(ids.slice(from, from + CHUNK));
    const drill = await drillResultsOfMany(subjects.map(({ fit }) => fit));
    for (const subject of subjects) yield await checkOne(subject, drill.get(subject.character.id) ?? [], profile);
  }
}

interface Subject {
  readonly character: CharacterRecord;
  readonly fit: CurrentFit;
}

/** Characters with their fits to the studio's definition, in the order of their ids. */
async function readSubjects(ids: readonly string[]): Promise<Subject[]> {
  const [characters, fits] = await Promise.all([findCharacters(ids), findCurrentFits(ids)]);
  return ids.flatMap((id) => {
    const [character, fit] = [characters.get(id), fits.get(id)];
    return character && fit ? [{ character, fit }] : [];
  });
}

async function checkOne(
  { character, fit }: Subject,
  drill: readonly DrillResult[],
  profileId: string | undefined,
): Promise<CheckRow> {
  const { id, name } = character;
  const base = { id, name, revision: fit.revision, profile: profileId ?? fit.state.profile ?? STUDIO.profile };
  try {
    const state = profileId === undefined ? fit.state : { ...fit.state, profile: profileId };
    const [reading, yardsticks] = await Promise.all([matchedReading(character, state), yardsticksOf(state)]);
    const { findings, waived } = await assessReading(reading, state, yardsticks, { drill });
    const names = [...new Set(findings.map(({ check }) => check))];
    const cells = names.map((check): CheckRow['cells'][number] => {
      const own = findings.filter((finding) => finding.check === check);
      const worst = SEVERITIES.find((severity) => own.some((finding) => finding.severity === severity)) ?? 'note';
      const repairs = [...new Set(own.flatMap(({ repair }) => repair ?? []))];
      return { check, severity: worst, count: own.length, sentence: own[0].sentence, repairs };
    });
    return { ...base, cells, waived: waived.length, refused: null };
  } catch (error) {
    return { ...base, cells: [], waived: 0, refused: problemOf(error, name).message };
  }
}

/** Most that the board of checks takes at once. */
const MOST = 500;

/** Characters of the roster, as many as one board takes. */
export async function listChecked(): Promise<string[]> {
  const { rows } = await readRoster({ size: MOST, isArchived: false });
  return rows.filter(({ kind }) => kind === 'character' || kind === 'skeleton').map(({ id }) => id);
}
