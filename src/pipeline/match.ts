import type { Definition } from '@/core/definition/definition';
import { axisVector, computeNormalisation, type NormalisationOverrides } from '@/core/frame/normalise';
import { compileDialect, type Dialect } from '@/core/dialect/dialect';
import type { DialectData } from '@/core/dialect/dialect-data';
import type { IntakeDecisions } from '@/core/intake/decisions';
import { matchBones, type MatchOptions } from '@/core/match/match-bones';
import type { FirstPass } from '@/core/match/first-pass';
import { decodeMotionTracks } from '@/core/clips/motion-tracks';
import { drawPortrait } from '@/core/portrait/portrait';
import type { Rig } from '@/core/rig/rig';

/** @param overrides unit and axes where a person set them. */
export function runFirstPass(
  rig: Rig,
  definition: Definition,
  options: MatchOptions = {},
  overrides?: NormalisationOverrides,
): FirstPass {
  const facing = overrides?.facing ? axisVector(overrides.facing) : undefined;
  const match = matchBones(rig, definition, facing ? { ...options, facing } : options);
  return { match, normalisation: computeNormalisation(rig, match.frame, overrides, match.creature.isHumanoid) };
}

export interface MatchInput {
  readonly rig: Rig;
  readonly decisions: IntakeDecisions;
  readonly definition: Definition;
  readonly dialect: DialectData;
  /** Clips of the reading, as `encodeMotionTracks` writes them; null where it has none. */
  readonly tracks: Uint8Array | null;
}

/** The first pass over a reading, and the drawing that goes with it. */
export interface MatchReport extends FirstPass {
  readonly portrait: string;
}

/** Matches a reading to a definition by a dialect. */
export function matchReading({ rig, decisions, definition, dialect, tracks }: MatchInput): MatchReport {
  const motion = tracks && rig.clips.length > 0 ? decodeMotionTracks(tracks) : null;
  const options = { dialect: compiled(dialect), sideMarks: decisions.sideMarks, motion };
  const first = runFirstPass(rig, definition, options, decisions);
  return { ...first, portrait: drawPortrait(rig, first.normalisation, first.match, definition) };
}

const MOST_COMPILED = 4;
const dialects = new Map<string, Dialect>();

/** Compiling takes a millisecond or two and versions never change, so the last few are kept. */
function compiled(data: DialectData): Dialect {
  const key = `${data.id}@${data.version}`;
  const dialect = dialects.get(key) ?? compileDialect(data);
  dialects.delete(key);
  dialects.set(key, dialect);
  if (dialects.size > MOST_COMPILED) dialects.delete(dialects.keys().next().value as string);
  return dialect;
}
