import type { Topology } from './make-rig';
import { TUNING_TOPOLOGIES } from './topologies';

const [PLAIN] = TUNING_TOPOLOGIES;

/**
 * Tuning topologies written later, from oddities seen in practice (extra and missing bones in any run, pelvis
 * beside the spine, clavicles under the neck, mittens), each mixed with the others by chance.
 */
export const ODD_TOPOLOGIES: readonly Topology[] = [
  {
    ...PLAIN,
    name: 'odd-runs',
    spine: [1, 6],
    neck: [0, 3],
    pelvisAside: 0.25,
    claviclesOnNeck: 0.25,
    headTip: 0.5,
    root: 0.7,
    face: 0.4,
  },
  {
    ...PLAIN,
    name: 'odd-ends',
    spine: [1, 3],
    neck: [0, 2],
    digits: [0, 5],
    digitSegments: [1, 3],
    clavicle: 0.6,
    toes: 0.6,
    hair: 0.4,
    tail: 0.3,
    ears: 0.3,
    metacarpals: 0.3,
  },
];
