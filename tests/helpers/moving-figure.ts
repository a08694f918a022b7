import { Document, type Node } from '@gltf-transform/core';
import { Quaternion, Vector3 } from 'three';
import { createNodeIO } from '@/formats/gltf/node-io';

/**
 * Figures that move by construction: what every joint does is stated as a turn against the T-pose in the body frame (x
 * left, y up, z ahead), and each figure's file is worked out from it with three's arithmetic. So two unlike figures can be
 * given one motion, and what is carried from one to the other can be held against what was written.
 */
export interface FigureSpec {
  readonly spine: number;
  readonly neck: number;
  readonly hasClavicles: boolean;
  readonly hasToes: boolean;
  readonly hasRoot: boolean;
  /** Fingers beside the thumb, from the index on, and bones of each. */
  readonly fingers: number;
  readonly phalanges: number;
  readonly hasThumb: boolean;
  /** Arms hang so far below the T-pose at rest, degrees. */
  readonly armsDownDeg: number;
  /** Proportions: legs, arms and trunk against a person of 1.7 m. */
  readonly legs: number;
  readonly arms: number;
  readonly trunk: number;
  /** How the file holds the figure: units in a metre, and a turn of everything. */
  readonly unitsPerMetre: number;
  readonly turned: readonly [number, number, number, number];
  /** Seed of the joints' own axes; 0: along the world's. */
  readonly axes: number;
  readonly hasSkin: boolean;
}

export const PLAIN_FIGURE: FigureSpec = {
  spine: 3,
  neck: 1,
  hasClavicles: true,
  hasToes: true,
  hasRoot: true,
  fingers: 4,
  phalanges: 3,
  hasThumb: true,
  armsDownDeg: 0,
  legs: 1,
  arms: 1,
  trunk: 1,
  unitsPerMetre: 1,
  turned: [0, 0, 0, 1],
  axes: 1,
  hasSkin: true,
};

/** A joint of a figure in the T-pose. */
export interface MovingJoint {
  readonly name: string;
  readonly parent: number;
  /** Body frame, metres. */
  readonly place: Vector3;
  /** Role id; null for members of runs and the root. */
  readonly role: string | null;
  /** What decides its turn: role line and place along it. */
  readonly line: string;
  readonly u: number;
  /** World turn of its own axes in the T-pose. */
  readonly axes: Quaternion;
  /** World turn of the rest against the T-pose. */
  readonly rest: Quaternion;
}

/** Turns of a motion at a time: by line and place along it. `hips`: displacement in legs. */
export interface MadeMotion {
  readonly seconds: number;
  readonly framesPerSecond: number;
  readonly hips: (t: number) => Vector3;
  readonly turn: (line: string, u: number, t: number) => Quaternion;
}

const vector = (x: number, y: number, z: number): Vector3 => new Vector3(x, y, z);
const about = (axis: Vector3, radians: number): Quaternion => new Quaternion().setFromAxisAngle(axis, radians);
const LEFT = vector(1, 0, 0);
const UP = vector(0, 1, 0);
const AHEAD = vector(0, 0, 1);

const FAN: Readonly<Record<string, number>> = { Index: 10, Middle: 2, Ring: -7, Little: -16 };
const PHALANGES = ['Proximal', 'Intermediate', 'Distal'];

export function makeFigure(spec: FigureSpec): MovingJoint[] {
  const joints: MovingJoint[] = [];
  let state = spec.axes * 7919 + 1;
  const random = () => {
    state = (state * 48_271) % 2_147_483_647;
    return (state / 2_147_483_647) * 2 - 1;
  };
  const add = (
    name: string,
    parent: number,
    place: Vector3,
    { role = null, line, u = 1 }: { role?: string | null; line: string; u?: number },
  ): number => {
    const axes =
      spec.axes === 0 ? new Quaternion() : new Quaternion(random(), random(), random(), random() + 0.2).normalize();
    return joints.push({ name, parent, place, role, line, u, axes, rest: new Quaternion() }) - 1;
  };
  const [leg, arm, trunk] = [spec.legs, spec.arms, spec.trunk];
  const hipHeight = 0.09 + 0.84 * leg;
  const root = spec.hasRoot ? add('ground', -1, vector(0, 0, 0), { line: 'ground' }) : -1;
  const hips = add('pelvis', root, vector(0, hipHeight, 0), { role: 'hips', line: 'hips' });
  const spineRoles: Record<number, Record<number, string>> = {
    1: { 0: 'spine' },
    2: { 0: 'spine', 1: 'chest' },
    3: { 0: 'spine', 1: 'chest', 2: 'upperChest' },
  };
  let above = hips;
  const spineTop = hipHeight + 0.4 * trunk;
  for (let at = 0; at < spec.spine; at++) {
    const u = (at + 1) / spec.spine;
    const y = hipHeight + (spineTop - hipHeight) * u;
    above = add(`back_${at + 1}`, above, vector(0, y, 0), {
      role: spineRoles[spec.spine]?.[at] ?? null,
      line: 'trunk',
      u,
    });
  }
  const chest = above;
  const neckStart = spineTop;
  for (let at = 0; at < spec.neck; at++) {
    const u = (at + 1) / (spec.neck + 1);
    above = add(`neck_${at + 1}`, above, vector(0, neckStart + 0.16 * trunk * u, 0), {
      role: at === 0 ? 'neck' : null,
      line: 'neckHead',
      u,
    });
  }
  const head = add('head', above, vector(0, neckStart + 0.16 * trunk, 0), { role: 'head', line: 'neckHead' });
  add('head_end', head, vector(0, neckStart + 0.36 * trunk, 0), { line: 'head_end' });
  for (const side of ['left', 'right'] as const) {
    const out = side === 'left' ? 1 : -1;
    const at = (x: number, y: number, z: number) => vector(x * out, y, z);
    const limb = (part: string, parent: number, place: Vector3) =>
      add(`${side}_${part}`, parent, place, { role: `${side}${part}`, line: `${side}${part}` });
    const thigh = limb('UpperLeg', hips, at(0.09, hipHeight - 0.03, 0));
    const shin = limb('LowerLeg', thigh, at(0.09, hipHeight - 0.03 - 0.4 * leg, 0));
    const foot = limb('Foot', shin, at(0.09, hipHeight - 0.03 - 0.8 * leg, 0));
    const ball = at(0.09, hipHeight - 0.03 - 0.8 * leg - 0.05, 0.14);
    if (spec.hasToes) {
      const toes = limb('Toes', foot, ball);
      add(`${side}_toes_end`, toes, ball.clone().add(vector(0, 0, 0.06)), { line: `${side}_toes_end` });
    } else add(`${side}_foot_end`, foot, ball, { line: `${side}_foot_end` });
    const shoulderHeight = spineTop + 0.02;
    let carrier = chest;
    if (spec.hasClavicles) carrier = limb('Shoulder', chest, at(0.03, shoulderHeight, 0));
    const upper = limb('UpperArm', carrier, at(0.18, shoulderHeight, 0));
    const lower = limb('LowerArm', upper, at(0.18 + 0.28 * arm, shoulderHeight, 0));
    const hand = limb('Hand', lower, at(0.18 + 0.53 * arm, shoulderHeight, 0));
    const wrist = joints[hand].place;
    Object.keys(FAN)
      .slice(0, spec.fingers)
      .forEach((digit, which) => {
        const fan = about(vector(0, -1, 0), (FAN[digit] * Math.PI) / 180);
        const along = vector(1, 0, 0)
          .applyQuaternion(fan)
          .multiply(vector(out, 1, 1));
        let parent = hand;
        // All knuckles lie as far from the wrist, so that a phalanx stands at one share of its line in every hand.
        const spread = 0.12 * (spec.fingers - 1) - which * 0.24;
        const knuckle = wrist.clone().add(at(0.09 * Math.cos(spread), 0, 0.09 * Math.sin(spread)));
        for (let phalanx = 0; phalanx < spec.phalanges; phalanx++) {
          const place = knuckle.clone().addScaledVector(along, 0.03 * phalanx);
          parent = add(`${side}_${digit}_${phalanx + 1}`, parent, place, {
            role: `${side}${digit}${PHALANGES[phalanx]}`,
            line: `${side}${digit}`,
            // From the wrist along the joints, of the way to the last one.
            u: (wrist.distanceTo(knuckle) + 0.03 * phalanx) / (wrist.distanceTo(knuckle) + 0.03 * (spec.phalanges - 1)),
          });
        }
        add(`${side}_${digit}_end`, parent, knuckle.clone().addScaledVector(along, 0.03 * spec.phalanges), {
          line: `${side}_end`,
        });
      });
    if (spec.hasThumb) {
      const along = vector(0.72, -0.12, 0.68)
        .normalize()
        .multiply(vector(out, 1, 1));
      let parent = hand;
      const base = wrist.clone().add(at(0.02, -0.01, 0.025));
      ['Metacarpal', 'Proximal', 'Distal'].forEach((segment, each) => {
        parent = add(`${side}_Thumb_${each + 1}`, parent, base.clone().addScaledVector(along, 0.035 * each), {
          role: `${side}Thumb${segment}`,
          line: `${side}Thumb`,
          u: (wrist.distanceTo(base) + 0.035 * each) / (wrist.distanceTo(base) + 0.07),
        });
      });
      add(`${side}_Thumb_end`, parent, base.clone().addScaledVector(along, 0.105), { line: `${side}_end` });
    }
    const down = about(AHEAD, (-out * spec.armsDownDeg * Math.PI) / 180);
    for (const [index, joint] of joints.entries()) {
      if (index < upper || !hangsOn(joints, index, upper)) continue;
      joint.rest.copy(down);
    }
  }
  return joints;
}

function hangsOn(joints: readonly MovingJoint[], joint: number, above: number): boolean {
  for (let at = joint; at >= 0; at = joints[at].parent) if (at === above) return true;
  return false;
}

/** Turn of every joint against the T-pose at a time; what has no line of its own rides on its parent. */
export function turnsAt(joints: readonly MovingJoint[], motion: MadeMotion, t: number): Quaternion[] {
  const out: Quaternion[] = [];
  joints.forEach(({ parent, line, u }, at) => {
    const isOwn = !/_end$/.test(line);
    out[at] = isOwn ? motion.turn(line, u, t) : out[parent].clone();
  });
  return out;
}

/** Local turns and, of the first joint that moves, the place; in the file's own space. */
function localsAt(joints: readonly MovingJoint[], turns: readonly Quaternion[]): Quaternion[] {
  const worlds = joints.map(({ axes }, at) => turns[at].clone().multiply(axes));
  return joints.map(({ parent }, at) =>
    parent < 0 ? worlds[at].clone() : worlds[parent].clone().invert().multiply(worlds[at]),
  );
}

/** A GLB of a figure, its motion as clip "made" where one is given. */
export async function writeFigureGlb(spec: FigureSpec, motion: MadeMotion | null): Promise<Uint8Array> {
  const joints = makeFigure(spec);
  const document = new Document();
  const buffer = document.createBuffer();
  const scene = document.createScene();
  const k = spec.unitsPerMetre;
  const turned = new Quaternion(...spec.turned);
  const restTurns = joints.map(({ rest }) => rest);
  const rests = localsAt(joints, restTurns);
  const nodes: Node[] = [];
  const accessor = (type: 'SCALAR' | 'VEC3' | 'VEC4' | 'MAT4', array: Float32Array | Uint16Array) =>
    document.createAccessor().setType(type).setArray(array).setBuffer(buffer);
  const offset = (at: number): Vector3 => {
    const { parent, place } = joints[at];
    if (parent < 0) return place.clone().multiplyScalar(k);
    return place
      .clone()
      .sub(joints[parent].place)
      .applyQuaternion(joints[parent].axes.clone().invert())
      .multiplyScalar(k);
  };
  joints.forEach(({ name, parent }, at) => {
    const local = parent < 0 ? turned.clone().multiply(rests[at]) : rests[at];
    const place = parent < 0 ? offset(at).applyQuaternion(turned) : offset(at);
    const node = document
      .createNode(name)
      .setRotation(local.toArray() as never)
      .setTranslation(place.toArray());
    if (parent < 0) scene.addChild(node);
    else nodes[parent].addChild(node);
    nodes.push(node);
  });
  if (spec.hasSkin) addSkin();
  if (motion) addClip(motion);
  return createNodeIO().writeBinary(document);

  /** A small triangle at each joint, bound to it alone. */
  function addSkin(): void {
    const worlds: { q: Quaternion; p: Vector3 }[] = [];
    nodes.forEach((node, at) => {
      const { parent } = joints[at];
      const q = new Quaternion(...node.getRotation());
      const p = new Vector3(...node.getTranslation());
      worlds[at] =
        parent < 0
          ? { q, p }
          : { q: worlds[parent].q.clone().multiply(q), p: p.applyQuaternion(worlds[parent].q).add(worlds[parent].p) };
    });
    const positions = new Float32Array(joints.length * 9);
    const weights = new Float32Array(joints.length * 12);
    const bones = new Uint16Array(joints.length * 12);
    const inverse = new Float32Array(joints.length * 16);
    worlds.forEach(({ q, p }, at) => {
      [vector(0, 0, 0), vector(0.01 * k, 0, 0), vector(0, 0.01 * k, 0)].forEach((corner, each) => {
        positions.set(corner.add(p).toArray(), at * 9 + each * 3);
        weights[(at * 3 + each) * 4] = 1;
        bones[(at * 3 + each) * 4] = at;
      });
      const back = q.clone().invert();
      const columns = [LEFT, UP, AHEAD].map((axis) => axis.clone().applyQuaternion(back));
      const origin = p.clone().applyQuaternion(back).negate();
      inverse.set(
        [...columns[0].toArray(), 0, ...columns[1].toArray(), 0, ...columns[2].toArray(), 0, ...origin.toArray(), 1],
        at * 16,
      );
    });
    const primitive = document
      .createPrimitive()
      .setAttribute('POSITION', accessor('VEC3', positions))
      .setAttribute('WEIGHTS_0', accessor('VEC4', weights))
      .setAttribute('JOINTS_0', accessor('VEC4', bones));
    const skin = document.createSkin().setInverseBindMatrices(accessor('MAT4', inverse));
    nodes.forEach((node) => skin.addJoint(node));
    scene.addChild(document.createNode('skin').setMesh(document.createMesh().addPrimitive(primitive)).setSkin(skin));
  }

  function addClip(made: MadeMotion): void {
    const count = Math.round(made.seconds * made.framesPerSecond) + 1;
    const times = accessor(
      'SCALAR',
      Float32Array.from({ length: count }, (_, frame) => frame / made.framesPerSecond),
    );
    const rotations = joints.map(() => new Float32Array(count * 4));
    const hips = joints.findIndex(({ role }) => role === 'hips');
    const places = new Float32Array(count * 3);
    const leg = 0.8 * spec.legs;
    for (let frame = 0; frame < count; frame++) {
      const t = frame / made.framesPerSecond;
      const turns = turnsAt(joints, made, t);
      localsAt(joints, turns).forEach((local, at) => {
        const whole = joints[at].parent < 0 ? turned.clone().multiply(local) : local;
        rotations[at].set(whole.toArray(), frame * 4);
      });
      const { parent } = joints[hips];
      const place = joints[hips].place.clone().addScaledVector(made.hips(t), leg);
      if (parent >= 0) place.sub(joints[parent].place).applyQuaternion(joints[parent].axes.clone().invert());
      else place.applyQuaternion(turned);
      places.set(place.multiplyScalar(k).toArray(), frame * 3);
    }
    const clip = document.createAnimation('made');
    const channel = (node: Node, path: 'rotation' | 'translation', output: Float32Array) => {
      const sampler = document
        .createAnimationSampler()
        .setInput(times)
        .setOutput(accessor(path === 'rotation' ? 'VEC4' : 'VEC3', output));
      clip
        .addSampler(sampler)
        .addChannel(document.createAnimationChannel().setTargetNode(node).setTargetPath(path).setSampler(sampler));
    };
    nodes.forEach((node, at) => channel(node, 'rotation', rotations[at]));
    channel(nodes[hips], 'translation', places);
  }
}

/** A lively motion: the trunk winds, arms swing and fold, fingers curl, hips travel and turn; every line moves. */
export const LIVELY: MadeMotion = {
  seconds: 2,
  framesPerSecond: 30,
  hips: (t) => vector(0.3 * Math.sin(t), 0.08 * Math.sin(4 * t) - 0.05, 0.8 * t),
  turn: (line, u, t) => {
    const lead = about(UP, 0.9 * Math.sin(1.1 * t)).multiply(about(LEFT, 0.1 * Math.sin(3 * t)));
    if (line === 'ground') return new Quaternion();
    if (line === 'hips') return lead;
    const chest = lead.clone().multiply(about(vector(0.4, 0.8, 0.2).normalize(), 0.5 * Math.sin(2 * t)));
    if (line === 'trunk') return lead.clone().slerp(chest, u);
    const head = chest.clone().multiply(about(vector(0.2, 1, 0.1).normalize(), 0.6 * Math.sin(1.7 * t + 1)));
    if (line === 'neckHead') return chest.clone().slerp(head, u);
    const side = line.startsWith('left') ? 1 : -1;
    const part = line.replace(/^(left|right)/, '');
    if (/Leg|Foot|Toes/.test(part)) {
      const thigh = lead
        .clone()
        .multiply(about(vector(1, 0.15 * side, 0.1 * side).normalize(), -0.5 * Math.sin(3 * t) * side));
      if (part === 'UpperLeg') return thigh;
      const shin = thigh.clone().multiply(about(LEFT, 0.5 + 0.4 * Math.sin(3 * t + side)));
      if (part === 'LowerLeg') return shin;
      const foot = shin.clone().multiply(about(vector(1, 0.2, 0).normalize(), -0.3 + 0.3 * Math.sin(3 * t)));
      return part === 'Foot' ? foot : foot.multiply(about(LEFT, -0.3 * Math.max(0, Math.sin(3 * t))));
    }
    const collar = chest.clone().multiply(about(vector(0, 0.3, side).normalize(), 0.12 * Math.sin(2.2 * t)));
    if (part === 'Shoulder') return collar;
    const upper = chest
      .clone()
      .multiply(about(AHEAD, side * (-1 + 0.3 * Math.sin(2 * t))))
      .multiply(about(LEFT, 0.4 * Math.sin(2.5 * t)));
    if (part === 'UpperArm') return upper;
    const lower = upper.clone().multiply(about(vector(0, -side, 0), 0.6 + 0.4 * Math.sin(2.1 * t)));
    if (part === 'LowerArm') return lower;
    const hand = lower.clone().multiply(about(vector(0.9, 0.2, 0.4 * side).normalize(), 0.7 * Math.sin(2.9 * t)));
    if (part === 'Hand') return hand;
    const curl =
      part === 'Thumb'
        ? about(vector(0, 1, 0), 0.4 * side * Math.sin(3 * t))
        : about(vector(0, 0, -side), 0.9 + 0.6 * Math.sin(3 * t));
    return hand.clone().slerp(hand.clone().multiply(curl), u);
  },
};
