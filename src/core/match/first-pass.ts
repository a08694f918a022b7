import type { Normalisation } from '../frame/normalise';
import type { Match } from './context/match-types';

/** What the first look at a rig yields; kept with the character. */
export interface FirstPass {
  readonly match: Match;
  readonly normalisation: Normalisation;
}
