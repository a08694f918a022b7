import { gltfFacts } from '@/core/rig/source-facts';
import { DIGITS, segmentsOf } from '@/core/definition/definition';
import { compose, invertAffine, multiply, decompose } from '@/core/math/mat4';
import { fromAxisAngle, multiply as multiplyQuat, normalise as unitQuat, rotate, type Quat } from '@/core/math/quat';
import { add, scale, subtract, type Vec3 } from '@/core/math/vec3';
import type { Bone, Rig } from '@/core/rig/rig';
import type { Random } from './random';
import type { Draft } from './draft';
import type { NamingHabit } from './naming';

/** What a made rig's bones truly are, by bone index: role id, `member`, `root`, or `spare:` and its kind. */
export interface MadeRig {
  readonly rig: Rig;
  readonly truth: readonly string[];
  readonly topology: string;
  readonly naming: string;
  readonly canTellSides: boolean;
}

export interface Topology {
  readonly name: string;
  readonly spine: readonly [number, number];
  readonly neck: readonly [number, number];
  readonly digits: readonly [number, number];
  readonly digitSegments: readonly [number, number];
  readonly clavicle: number;
  readonly toes: number;
  readonly toeTips: number;
  readonly fingerTips: number;
  readonly headTip: number;
  readonly root: number;
  readonly twists: 'none' | 'side' | 'chain';
  readonly helpers: number;
  readonly metacarpals: number;
  readonly targets: number;
  readonly cloth: number;
  readonly hair: number;
  readonly tail: number;
  readonly ears: number;
  readonly face: number;
  readonly props: number;
  readonly skin: number;
  readonly pelvisAside: number;
  readonly claviclesOnNeck: number;
  readonly hasHands: boolean;
}

const DEG = Math.PI / 180;
const POSES = ['T', 'A', 'down', 'sit', 'walk'] as const;
type Pose = (typeof POSES)[number];

/** One random biped of a topology: proportions, pose and axes vary; the truth is known by construction. */
export function makeBiped(random: Random, topology: Topology, naming: NamingHabit): MadeRig {
  const drafts: Draft[] = [];
  const add1 = (draft: Omit<Draft, 'skin'> & { skin?: number }): number => drafts.push({ skin: 1, ...draft }) - 1;
  const legs = random.range(0.42, 0.52);
  const hipWidth = random.range(0.045, 0.065);
  const shoulderWidth = random.range(0.085, 0.13);
  const armLength = random.range(0.28, 0.36);
  const trunkLength = random.range(0.26, 0.33);
  const hasSkin = random.chance(topology.skin);
  const hipHeight = legs + random.range(0.01, 0.03);

  let above = -1;
  if (random.chance(topology.root))
    above = add1({ part: 'root', side: null, parent: -1, place: [0, 0, 0], truth: 'root', skin: 0 });
  const aside = random.chance(topology.pelvisAside) && above >= 0;
  const hips = add1({ part: 'hips', side: null, parent: above, place: [0, hipHeight, 0], truth: 'hips' });
  const legParent = hips;

  const spineCount = random.int(...topology.spine);
  const spineBones: number[] = [];
  let up = aside ? above : hips;
  for (let at = 0; at < spineCount; at++) {
    const y = hipHeight + trunkLength * ((at + 0.6) / (spineCount + 0.2)) * 0.95;
    up = add1({
      part: 'spine',
      side: null,
      parent: up,
      place: [0, y, -0.01 * Math.sin((at / spineCount) * 3)],
      truth: 'member',
      segment: at,
    });
    spineBones.push(up);
  }
  const anchors = spineAnchors(spineCount);
  spineBones.forEach((bone, at) => {
    drafts[bone].truth = anchors.get(at) ?? 'member';
  });
  const chestTop = spineBones[spineCount - 1];
  drafts[chestTop].part = spineCount >= 2 ? 'chest' : 'spine';
  const neckBase = hipHeight + trunkLength;
  const neckCount = random.int(...topology.neck);
  up = chestTop;
  const neckBones: number[] = [];
  for (let at = 0; at < neckCount; at++) {
    up = add1({
      part: 'neck',
      side: null,
      parent: up,
      place: [0, neckBase + 0.045 * (at / Math.max(1, neckCount)), -0.005],
      truth: at === 0 ? 'neck' : 'member',
      segment: at,
      skin: 0.3,
    });
    neckBones.push(up);
  }
  const head = add1({
    part: 'head',
    side: null,
    parent: up,
    place: [0, neckBase + 0.05, 0.003],
    truth: 'head',
    skin: 3,
  });
  if (random.chance(topology.headTip))
    add1({ part: 'headTip', side: null, parent: head, place: [0, neckBase + 0.17, 0.01], truth: 'spare:tip', skin: 0 });
  const hasFace = random.chance(topology.face);
  if (hasFace)
    add1({ part: 'jaw', side: null, parent: head, place: [0, neckBase + 0.06, 0.02], truth: 'jaw', skin: 0.3 });

  const clavicles = random.chance(topology.clavicle);
  const clavicleParent = random.chance(topology.claviclesOnNeck) && neckBones.length > 0 ? neckBones[0] : chestTop;
  const digitCount = topology.hasHands ? random.int(...topology.digits) : 0;
  const segmentCount = random.int(...topology.digitSegments);
  const metacarpals = random.chance(topology.metacarpals);
  const fingerTips = random.chance(topology.fingerTips);
  const toes = random.chance(topology.toes);
  const toeTips = toes && random.chance(topology.toeTips);
  const helpers = random.chance(topology.helpers);
  const targets = random.chance(topology.targets);
  const cloth = random.chance(topology.cloth) ? random.int(2, 4) : 0;
  const hair = random.chance(topology.hair);
  const ears = random.chance(topology.ears);
  const order: readonly ('left' | 'right')[] = random.chance(0.5) ? ['left', 'right'] : ['right', 'left'];
  const upperShare = random.range(0.5, 0.55);
  const thighShare = random.range(0.47, 0.53);
  const handLength = random.range(0.085, 0.115);

  for (const side of order) {
    const s = side === 'left' ? 1 : -1;
    if (hasFace)
      add1({
        part: 'eye',
        side,
        parent: head,
        place: [0.018 * s, neckBase + 0.1, 0.045],
        truth: `${side}Eye`,
        skin: 0.1,
      });
    if (ears) {
      const ear = add1({
        part: 'ear',
        side,
        parent: head,
        place: [0.045 * s, neckBase + 0.13, -0.01],
        truth: 'spare:dangling',
        skin: 0.1,
      });
      add1({
        part: 'ear',
        side,
        parent: ear,
        place: [0.06 * s, neckBase + 0.17, -0.01],
        truth: 'spare:dangling',
        skin: 0.1,
        segment: 1,
      });
    }
    const shoulderY = neckBase - 0.025;
    let armParent = clavicleParent;
    if (clavicles)
      armParent = add1({
        part: 'clavicle',
        side,
        parent: armParent,
        place: [0.018 * s, shoulderY - 0.004, 0.006],
        truth: `${side}Shoulder`,
        skin: 0.6,
      });
    const chainTwist = topology.twists === 'chain';
    const shoulder: Vec3 = [shoulderWidth * s, shoulderY, -0.008];
    const elbow: Vec3 = [(shoulderWidth + armLength * upperShare) * s, shoulderY, -0.013];
    const wrist: Vec3 = [(shoulderWidth + armLength) * s, shoulderY, -0.008];
    const upper = add1({ part: 'upperArm', side, parent: armParent, place: shoulder, truth: `${side}UpperArm` });
    const upperEnd = chainTwist
      ? add1({
          part: 'upperArmTwist',
          side,
          parent: upper,
          place: mix(shoulder, elbow, 0.5),
          truth: 'spare:twist',
          skin: 0.5,
        })
      : upper;
    const lower = add1({ part: 'lowerArm', side, parent: upperEnd, place: elbow, truth: `${side}LowerArm` });
    const lowerEnd = chainTwist
      ? add1({
          part: 'lowerArmTwist',
          side,
          parent: lower,
          place: mix(elbow, wrist, 0.5),
          truth: 'spare:twist',
          skin: 0.5,
        })
      : lower;
    if (topology.twists === 'side') {
      add1({
        part: 'upperArmTwist',
        side,
        parent: upper,
        place: mix(shoulder, elbow, 0.5),
        truth: 'spare:twist',
        skin: 0.5,
      });
      add1({
        part: 'lowerArmTwist',
        side,
        parent: lower,
        place: mix(elbow, wrist, random.pick([0.5, 0.7])),
        truth: 'spare:twist',
        skin: 0.5,
      });
    }
    if (helpers) {
      add1({
        part: 'elbowHelper',
        side,
        parent: upper,
        place: add(elbow, [0, 0, -0.008]),
        truth: 'spare:helper',
        skin: 0.2,
      });
    }
    if (topology.hasHands) {
      const hand = add1({ part: 'hand', side, parent: lowerEnd, place: wrist, truth: `${side}Hand`, skin: 0.8 });
      if (targets)
        add1({
          part: 'handTarget',
          side,
          parent: above >= 0 ? above : hips,
          place: wrist,
          truth: 'spare:control',
          skin: 0,
        });
      if (random.chance(topology.props) && side === 'right')
        add1({
          part: 'prop',
          side: null,
          parent: hand,
          place: add(wrist, [0.05 * s, -0.01, 0.02]),
          truth: 'spare:prop',
          skin: 0,
        });
      DIGITS.slice(0, digitCount).forEach((digit, at) => {
        const isThumb = digit === 'Thumb';
        const base: Vec3 = isThumb
          ? add(wrist, [0.016 * s, -0.006, 0.018])
          : add(wrist, [handLength * 0.5 * s, 0.002, 0.017 - (at - 1) * 0.0125]);
        const direction: Vec3 = isThumb ? [0.62 * s, -0.15, 0.6] : [s, 0, 0.03 * (2 - at)];
        let parent = hand;
        if (metacarpals && !isThumb)
          parent = add1({
            part: 'metacarpal',
            side,
            parent,
            place: add(wrist, [0.012 * s, 0.001, 0.011 - (at - 1) * 0.008]),
            truth: 'spare:helper',
            segment: at,
            skin: 0.2,
          });
        const count = Math.min(3, segmentCount);
        const length = handLength * (isThumb ? 0.24 : 0.19) * (digit === 'Little' ? 0.8 : 1);
        for (let segment = 0; segment < count; segment++) {
          parent = add1({
            part: digit.toLowerCase(),
            side,
            parent,
            place: add(base, scale(direction, length * segment * (1 - 0.1 * segment))),
            truth: `${side}${digit}${segmentsOf(digit)[segment]}`,
            segment,
            skin: 0.1,
          });
        }
        if (fingerTips)
          add1({
            part: `${digit.toLowerCase()}Tip`,
            side,
            parent,
            place: add(base, scale(direction, length * count * 0.95)),
            truth: 'spare:tip',
            segment: count,
            skin: 0,
          });
      });
    }

    const hip: Vec3 = [hipWidth * s, hipHeight - 0.02, 0];
    const ankle: Vec3 = [hipWidth * s, 0.045, -0.008];
    const knee: Vec3 = [hipWidth * s, hip[1] + (ankle[1] - hip[1]) * thighShare, 0.006];
    const thigh = add1({ part: 'upperLeg', side, parent: legParent, place: hip, truth: `${side}UpperLeg` });
    const thighEnd =
      chainTwist && random.chance(0.5)
        ? add1({
            part: 'upperLegTwist',
            side,
            parent: thigh,
            place: mix(hip, knee, 0.5),
            truth: 'spare:twist',
            skin: 0.5,
          })
        : thigh;
    const shin = add1({ part: 'lowerLeg', side, parent: thighEnd, place: knee, truth: `${side}LowerLeg` });
    if (topology.twists === 'side')
      add1({ part: 'upperLegTwist', side, parent: thigh, place: mix(hip, knee, 0.4), truth: 'spare:twist', skin: 0.5 });
    if (helpers)
      add1({
        part: 'kneeHelper',
        side,
        parent: thigh,
        place: add(knee, [0, 0, 0.008]),
        truth: 'spare:helper',
        skin: 0.2,
      });
    const foot = add1({ part: 'foot', side, parent: shin, place: ankle, truth: `${side}Foot`, skin: 0.6 });
    if (targets)
      add1({
        part: 'footTarget',
        side,
        parent: above >= 0 ? above : hips,
        place: ankle,
        truth: 'spare:control',
        skin: 0,
      });
    if (toes) {
      const toe = add1({
        part: 'toes',
        side,
        parent: foot,
        place: add(ankle, [0.002 * s, -0.033, 0.07]),
        truth: `${side}Toes`,
        skin: 0.2,
      });
      if (toeTips)
        add1({
          part: 'toeTip',
          side,
          parent: toe,
          place: add(ankle, [0.002 * s, -0.035, 0.11]),
          truth: 'spare:tip',
          skin: 0,
        });
    }
    for (let strip = 0; strip < cloth; strip++) {
      let parent = hips;
      for (let row = 0; row < 3; row++) {
        parent = add1({
          part: 'cloth',
          side,
          parent,
          place: [s * (0.05 + 0.012 * row) * (1 - strip * 0.2), hipHeight - 0.03 - 0.07 * row, 0.05 - strip * 0.045],
          truth: 'spare:dangling',
          segment: strip * 3 + row,
          skin: 0.3,
        });
      }
    }
  }
  if (random.chance(topology.tail)) {
    let parent = hips;
    for (let row = 0; row < 4; row++)
      parent = add1({
        part: 'tail',
        side: null,
        parent,
        place: [0, hipHeight - 0.01 - 0.03 * row, -0.05 - 0.06 * row],
        truth: 'spare:dangling',
        segment: row,
        skin: 0.3,
      });
  }
  if (hair) {
    let parent = head;
    for (let row = 0; row < 3; row++)
      parent = add1({
        part: 'hair',
        side: null,
        parent,
        place: [0, neckBase + 0.12 - 0.06 * row, -0.06 - 0.01 * row],
        truth: 'spare:dangling',
        segment: row,
        skin: 0.3,
      });
  }
  const pose = random.pick(POSES);
  applyPose(drafts, pose, random);
  const canTellSides = toes || hasFace || naming.hasSides || pose === 'sit';
  return finish(drafts, random, { topology: topology.name, naming, hasSkin, canTellSides });
}

const mix = (a: Vec3, b: Vec3, t: number): Vec3 => add(scale(a, 1 - t), scale(b, t));

/** The studio's rule: up to three fill from the bottom; longer runs anchor the first, the middle and the last. */
function spineAnchors(count: number): Map<number, string> {
  if (count <= 3) return new Map(['spine', 'chest', 'upperChest'].slice(0, count).map((role, at) => [at, role]));
  return new Map([
    [0, 'spine'],
    [Math.round((count - 1) / 2), 'chest'],
    [count - 1, 'upperChest'],
  ]);
}

function applyPose(drafts: Draft[], pose: Pose, random: Random): void {
  const turn = (part: string, side: 'left' | 'right', rotation: Quat) => {
    const pivot = drafts.findIndex((draft) => draft.part === part && draft.side === side);
    if (pivot < 0) return;
    const centre = drafts[pivot].place;
    drafts.forEach((draft, index) => {
      const onPivot = index === pivot || isBelow(drafts, index, pivot);
      const isTarget =
        draft.truth === 'spare:control' &&
        draft.side === side &&
        (part === 'upperArm' || part === 'lowerArm') === (draft.part === 'handTarget');
      if (onPivot || isTarget) draft.place = add(centre, rotate(rotation, subtract(draft.place, centre)));
    });
  };
  for (const side of ['left', 'right'] as const) {
    const s = side === 'left' ? 1 : -1;
    const about = (x: number, y: number, z: number, degrees: number) => fromAxisAngle([x, y, z], degrees * DEG);
    const down = {
      T: random.range(-4, 5),
      A: random.range(25, 60),
      down: random.range(68, 84),
      sit: random.range(20, 70),
      walk: random.range(55, 78),
    }[pose];
    turn('lowerArm', side, about(0, 1, 0, -s * random.range(2, pose === 'T' ? 6 : 22)));
    turn('upperArm', side, about(0, 0, 1, -s * down));
    if (pose === 'sit') {
      turn('lowerLeg', side, about(1, 0, 0, random.range(75, 95)));
      turn('upperLeg', side, about(1, 0, 0, -random.range(75, 95)));
    } else if (pose === 'walk') {
      turn('lowerLeg', side, about(1, 0, 0, random.range(5, 35)));
      turn('upperLeg', side, about(1, 0, 0, s * random.range(10, 28)));
      turn('upperArm', side, about(1, 0, 0, -s * random.range(10, 25)));
    } else {
      turn('upperLeg', side, about(0, 0, 1, s * random.range(0, 8)));
    }
  }
}

function isBelow(drafts: readonly Draft[], bone: number, ancestor: number): boolean {
  for (let at = drafts[bone].parent; at >= 0; at = drafts[at].parent) if (at === ancestor) return true;
  return false;
}

interface FinishOptions {
  readonly topology: string;
  readonly naming: NamingHabit;
  readonly hasSkin: boolean;
  readonly canTellSides: boolean;
}

/** Scale, axes, names and the rig's own data around the drafted joints. */
function finish(drafts: readonly Draft[], random: Random, options: FinishOptions): MadeRig {
  const size = random.range(1.1, 2.1) * random.pick([1, 1, 1, 1, 100, 0.01]);
  let turn: Quat = fromAxisAngle([0, 1, 0], random.pick([0, 0, 0, 90, 180, 270]) * DEG);
  if (random.chance(0.12)) turn = multiplyQuat(fromAxisAngle([1, 0, 0], random.pick([-90, 90]) * DEG), turn);
  const names = options.naming.name(drafts, random);
  const worlds = drafts.map((draft) =>
    compose(
      scale(rotate(turn, draft.place), size),
      unitQuat([random.range(-1, 1), random.range(-1, 1), random.range(-1, 1), 1]),
      [1, 1, 1],
    ),
  );
  const bones = drafts.map((draft, index): Bone => {
    const parentWorld = draft.parent >= 0 ? (invertAffine(worlds[draft.parent]) as number[]) : null;
    const local = decompose(parentWorld ? multiply(parentWorld, worlds[index]) : worlds[index]);
    const weight = options.hasSkin ? draft.skin * 100 : 0;
    return {
      index,
      name: names[index] || `node ${index}`,
      isNamed: names[index] !== '',
      nodeIndex: index,
      parent: draft.parent,
      rest: { translation: local.translation, rotation: local.rotation, scale: [1, 1, 1] },
      restWorld: worlds[index],
      bindWorld: null,
      isJoint: options.hasSkin,
      skinWeight: weight,
      skinVertexCount: Math.round(weight * 1.5),
      skinCentre: null,
    };
  });
  const rig: Rig = {
    source: gltfFacts(),
    kind: 'character',
    bones,
    extras: [],
    clips: [],
    poses: [],
    statedRoles: {},
    skinCount: 1,
    remarks: [],
    mesh: {
      primitiveCount: 1,
      vertexCount: 5000,
      triangleCount: 9000,
      materialCount: 1,
      textureCount: 0,
      morphTargetCount: 0,
      maxInfluences: 4,
      bounds: null,
    },
  };
  return {
    rig,
    truth: drafts.map((draft) => draft.truth),
    topology: options.topology,
    naming: options.naming.id,
    canTellSides: options.canTellSides,
  };
}
