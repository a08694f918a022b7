import type { Spare } from '../match/context/match-types';
import { alignLoose } from './align-loose';
import { standingFigure, type FittedRig, type StandingFigure } from './fitted-rig';
import { lineSlots } from './line-slots';
import { looseBones } from './loose-bones';

/** A figure as motion is told against it, and its bones that do not hang on what carries them. */
export interface ReferenceFigure {
  readonly standing: StandingFigure;
  /** Bone -> the bone that carries it. */
  readonly loose: ReadonlyMap<number, number>;
}

export function referenceFigure(fitted: FittedRig, spares: readonly Spare[]): ReferenceFigure {
  const posed = standingFigure(fitted);
  const loose = looseBones(fitted, lineSlots(fitted, posed.places), spares);
  return { standing: alignLoose(fitted, posed, loose), loose };
}
