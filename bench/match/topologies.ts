import type { Topology } from './make-rig';

const BASE: Topology = {
  name: 'base',
  spine: [2, 3],
  neck: [1, 1],
  digits: [5, 5],
  digitSegments: [3, 3],
  clavicle: 1,
  toes: 1,
  toeTips: 0.3,
  fingerTips: 0.3,
  headTip: 0.3,
  root: 0.6,
  twists: 'none',
  helpers: 0,
  metacarpals: 0,
  targets: 0,
  cloth: 0,
  hair: 0.2,
  tail: 0,
  ears: 0,
  face: 0.2,
  props: 0.1,
  skin: 0.85,
  pelvisAside: 0,
  claviclesOnNeck: 0,
  hasHands: true,
};
const of = (name: string, change: Partial<Topology>): Topology => ({ ...BASE, ...change, name });

export const TUNING_TOPOLOGIES: readonly Topology[] = [
  of('plain', {}),
  of('sparse', {
    spine: [1, 2],
    neck: [0, 1],
    digits: [0, 2],
    digitSegments: [1, 2],
    toes: 0.4,
    clavicle: 0.5,
    root: 0.3,
    skin: 0.6,
  }),
  of('full', {
    spine: [3, 5],
    neck: [1, 2],
    twists: 'side',
    helpers: 0.7,
    metacarpals: 0.4,
    targets: 0.4,
    face: 0.6,
    fingerTips: 0.5,
  }),
  of('chained-twists', { twists: 'chain', spine: [2, 4] }),
  of('dressed', { cloth: 0.9, hair: 0.8, ears: 0.5, tail: 0.4, digits: [4, 5] }),
  of('skeleton-only', { skin: 0, fingerTips: 0.5, headTip: 0.6 }),
];

/** Held back from tuning. */
export const HELD_TOPOLOGIES: readonly Topology[] = [
  of('game', { spine: [3, 3], twists: 'side', targets: 0.9, root: 1, helpers: 0.3, metacarpals: 0.5 }),
  of('toy', { spine: [1, 1], neck: [0, 1], digits: [0, 0], toes: 0.3, clavicle: 0.3, root: 0.2, face: 0, hair: 0.5 }),
  of('costume', {
    cloth: 1,
    tail: 0.5,
    hair: 1,
    ears: 0.7,
    twists: 'chain',
    digits: [3, 5],
    digitSegments: [2, 3],
    claviclesOnNeck: 0.2,
  }),
  of('odd-trunk', { spine: [4, 6], neck: [2, 3], pelvisAside: 0.3, claviclesOnNeck: 0.3, headTip: 0.8 }),
];
