import type { SizeChange } from '@/contract/requests';
import { changeIntake } from '../fits/change-fit';
import { findCurrentFit } from '../fits/fit-repository';
import { findCharacter } from '../characters/character-repository';
import { matchedReading } from '../matches/matched-reading';
import type { ProvenanceOutcome } from './set-provenance';

/**
 * Makes each character so tall, so many times as large as it is, or reads its file in a unit. Each change is one step of
 * that character's own history; a figure that has no height is refused.
 */
export async function setSize(
  characterIds: readonly string[],
  size: SizeChange,
  author: string,
): Promise<ProvenanceOutcome> {
  let changed = 0;
  const refused: { id: string; message: string }[] = [];
  for (const id of characterIds) {
    const [character, fit] = await Promise.all([findCharacter(id), findCurrentFit(id)]);
    if (!character || !fit) {
      refused.push({ id, message: 'There is no such character.' });
      continue;
    }
    const { normalisation } = await matchedReading(character, fit.state);
    const unitMetres = unitOf(size, normalisation);
    if (unitMetres === null) {
      refused.push({ id, message: `${character.name} has no height that could be scaled.` });
      continue;
    }
    if (fit.state.intake.unitMetres === unitMetres) continue;
    const result = await changeIntake(id, { unitMetres }, { baseRevision: fit.revision, author });
    if (result.ok) changed++;
    else refused.push({ id, message: result.message });
  }
  return { changed, refused };
}

/** Metres per unit of the file by which a figure gets its size; null for one without height. */
function unitOf(
  size: SizeChange,
  { heightFile, scale }: { readonly heightFile: number; readonly scale: number },
): number | null {
  switch (size.kind) {
    case 'unit':
      return size.unitMetres;
    case 'factor':
      return scale * size.factor;
    case 'height':
      return heightFile > 0 ? size.metres / heightFile : null;
    default:
      return size satisfies never;
  }
}
