import { QUAY } from '@/core/definition/quay';
import { matchBones, type MatchOptions } from '@/core/match/match-bones';
import { makeBiped } from './make-rig';
import { HELD_HABITS, TUNING_HABITS } from './naming';
import { Random } from './random';
import { emptyTally, score, type Tally } from './tally';
import { ODD_TOPOLOGIES } from './odd-topologies';
import { HELD_TOPOLOGIES, TUNING_TOPOLOGIES } from './topologies';
import { HELD_REBUILDS, rebuild, TUNING_REBUILDS } from './world-rigs';

export const PARTS = ['tuning', 'held'] as const;
export type Part = (typeof PARTS)[number];
const OPAQUE = new Set(['opaque', 'nameless', 'opaque-sided']);

export interface BenchOptions {
  readonly perCell: number;
  readonly parts: readonly Part[];
  readonly match?: MatchOptions;
  /** Told about every rig with mistakes. */
  readonly onMistakes?: (where: string, mistakes: readonly string[]) => void;
}

/** Matches `perCell` seeded rigs for every topology and naming habit; a tally per group, by name. */
export function runBench({ perCell, parts, match: options, onMistakes }: BenchOptions): Map<string, Tally> {
  const groups = new Map<string, Tally>();
  const tallyOf = (name: string): Tally => {
    const known = groups.get(name) ?? emptyTally();
    groups.set(name, known);
    return known;
  };
  for (const part of parts) {
    const [topologies, habits] =
      part === 'held' ? [HELD_TOPOLOGIES, HELD_HABITS] : [[...TUNING_TOPOLOGIES, ...ODD_TOPOLOGIES], TUNING_HABITS];
    for (const [t, topology] of topologies.entries()) {
      for (const [h, habit] of habits.entries()) {
        for (let index = 0; index < perCell; index++) {
          const seed = ((part === 'held' ? 1 : 2) * 1_000_003 + t * 10_007 + h * 1_009 + index) >>> 0;
          const made = makeBiped(new Random(seed), topology, habit);
          const started = performance.now();
          const match = matchBones(made.rig, QUAY, options);
          const ms = performance.now() - started;
          const kind = OPAQUE.has(habit.id) ? 'opaque' : 'named';
          const mistakes: string[] = [];
          score(tallyOf(`${part} ${kind}`), made, match, ms, mistakes);
          score(tallyOf(`${part} ${kind}, topology ${topology.name}`), made, match, ms);
          score(tallyOf(`${part} ${kind}, names ${habit.id}`), made, match, ms);
          if (mistakes.length > 0) onMistakes?.(`${part} ${topology.name} ${habit.id} seed ${seed}`, mistakes);
        }
      }
    }
  }
  return groups;
}

/**
 * The same rigs rebuilt as rigs by other hands are (`world-rigs`): a tally per part and kind of names, and per rebuild.
 * Digits, cloth and faces come as the topology gives them.
 */
export function runRebuilt({ perCell, parts, match: options, onMistakes }: BenchOptions): Map<string, Tally> {
  const groups = new Map<string, Tally>();
  const tallyOf = (name: string): Tally => {
    const known = groups.get(name) ?? emptyTally();
    groups.set(name, known);
    return known;
  };
  for (const part of parts) {
    const [rebuilds, topologies, habits] =
      part === 'held'
        ? [HELD_REBUILDS, HELD_TOPOLOGIES, HELD_HABITS]
        : [TUNING_REBUILDS, [...TUNING_TOPOLOGIES, ...ODD_TOPOLOGIES], TUNING_HABITS];
    for (const [r, [name, change]] of Object.entries(rebuilds).entries()) {
      for (const [h, habit] of habits.entries()) {
        for (let index = 0; index < perCell; index++) {
          const seed = ((part === 'held' ? 3 : 4) * 1_000_003 + r * 10_007 + h * 1_009 + index) >>> 0;
          const random = new Random(seed);
          const made = rebuild(makeBiped(random, random.pick(topologies), habit), change, random);
          const started = performance.now();
          const match = matchBones(made.rig, QUAY, options);
          const ms = performance.now() - started;
          const kind = OPAQUE.has(habit.id) ? 'opaque' : 'named';
          const mistakes: string[] = [];
          score(tallyOf(`${part} ${kind}`), made, match, ms, mistakes);
          score(tallyOf(`${part} ${kind}, ${name}`), made, match, ms);
          if (mistakes.length > 0) onMistakes?.(`${part} ${name} ${made.topology} ${habit.id} seed ${seed}`, mistakes);
        }
      }
    }
  }
  return groups;
}
