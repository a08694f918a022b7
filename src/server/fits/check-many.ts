import type { CheckRow } from '@/contract/studio';
import { SEVERITIES } from '@/core/checks/finding';
import { problemOf } from '@/core/errors/yarvo-error';
import { findCharacter } from '../characters/character-repository';
import { readRoster } from '../characters/roster';
import { matchedReading } from '../matches/matched-reading';
import { STUDIO } from '../library/studio';
import { drillResultsOf } from './drill-results';
import { assessReading, yardsticksOf } from './assess-reading';
import { findCurrentFit } from './fit-repository';

/** What the checks find on characters, one after another, so that nothing else waits long. @param profile for all, in place of their own. */
export async function* checkMany(ids: readonly string[], profile?: string): AsyncGenerator<CheckRow> {
  for (const id of ids) {
    const row = await checkOne(id, profile);
    if (row) yield row;
    // Others get their turn between two characters.
    await new Promise((resolve) => setImmediate(resolve));
  }
}

async function checkOne(id: string, profileId?: string): Promise<CheckRow | null> {
  const character = await findCharacter(id);
  const fit = character && (await findCurrentFit(id, STUDIO.definition));
  if (!character || !fit) return null;
  const base = {
    id,
    name: character.name,
    revision: fit.revision,
    profile: profileId ?? fit.state.profile ?? STUDIO.profile,
  };
  try {
    const state = profileId === undefined ? fit.state : { ...fit.state, profile: profileId };
    const [reading, yardsticks, drill] = await Promise.all([
      matchedReading(character, state),
      yardsticksOf(state),
      drillResultsOf(fit),
    ]);
    const { findings, waived } = assessReading(reading, state, yardsticks, { drill });
    const names = [...new Set(findings.map(({ check }) => check))];
    const cells = names.map((check): CheckRow['cells'][number] => {
      const own = findings.filter((finding) => finding.check === check);
      const worst = SEVERITIES.find((severity) => own.some((finding) => finding.severity === severity)) ?? 'note';
      const repairs = [...new Set(own.flatMap(({ repair }) => repair ?? []))];
      return { check, severity: worst, count: own.length, sentence: own[0].sentence, repairs };
    });
    return { ...base, cells, waived: waived.length, refused: null };
  } catch (error) {
    return { ...base, cells: [], waived: 0, refused: problemOf(error, character.name).message };
  }
}

/** Most that the board of checks takes at once. */
const MOST = 500;

/** Characters of the roster, as many as one board takes. */
export async function listChecked(): Promise<string[]> {
  const { rows } = await readRoster({ size: MOST, isArchived: false });
  return rows.filter(({ kind }) => kind === 'character' || kind === 'skeleton').map(({ id }) => id);
}
