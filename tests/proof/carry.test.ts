import { Quaternion, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { createNodeIO } from '@/formats/gltf/node-io';
import { carryBytes, carryFigures, degreesBetween, objectsOf, offTruth, placeOf } from '../helpers/carry-maker';
import {
  LIVELY,
  makeFigure,
  PLAIN_FIGURE,
  writeFigureGlb,
  type FigureSpec,
  type MadeMotion,
} from '../helpers/moving-figure';
import { loadWithThree, playAt } from '../helpers/three-oracle';

const of = (change: Partial<FigureSpec>): FigureSpec => ({ ...PLAIN_FIGURE, ...change });
const LYING = [-Math.SQRT1_2, 0, 0, Math.SQRT1_2] as const;
const TURNED = [0, Math.sin(0.35), 0, Math.cos(0.35)] as const;

/** Figures that differ in what rigs differ in; each stands against each. */
const UNLIKE: Readonly<Record<string, FigureSpec>> = {
  'five spine bones': of({ axes: 2, spine: 5 }),
  'A-pose': of({ axes: 3, armsDownDeg: 47, legs: 1.1 }),
  'lying, centimetres': of({ axes: 4, unitsPerMetre: 100, turned: LYING }),
  'three fingers': of({ axes: 5, fingers: 3, neck: 2 }),
  'hands of one bone': of({ axes: 6, fingers: 0, hasThumb: false, spine: 2 }),
  'no clavicles, long arms': of({ axes: 7, hasClavicles: false, arms: 1.25, hasRoot: false }),
  'turned by some degrees': of({ axes: 8, turned: TURNED, legs: 0.7 }),
};

/** Turns that the source does not tell, or that a resampled run is not asked to hold. */
function tells(from: FigureSpec, to: FigureSpec): (role: string | null, name: string) => boolean {
  const known = new Set(makeFigure(from).map(({ role }) => role));
  const isRun = (name: string) => /^(back|neck)_/.test(name);
  return (role, name) => {
    if (isRun(name)) return true;
    if (/Shoulder$/.test(name) && !from.hasClavicles) return false;
    if (/Index|Middle|Ring|Little|Thumb/.test(name)) return known.has(role) && to.phalanges === from.phalanges;
    return role === null || known.has(role);
  };
}

describe('a clip carried to a figure by construction', () => {
  const names = Object.keys(UNLIKE);
  const pairs = names.flatMap((from) => names.filter((to) => to !== from).map((to) => [from, to] as const));
  it.each(pairs)('%s on %s: every turn within 0.01 degrees, hips within 1e-5 m', async (from, to) => {
    const { loaded } = await carryFigures(UNLIKE[from], UNLIKE[to], LIVELY);
    const off = offTruth(loaded, UNLIKE[to], LIVELY, tells(UNLIKE[from], UNLIKE[to]));
    expect(off.degrees, off.where).toBeLessThan(0.01);
    expect(off.hipsMetres).toBeLessThan(1e-5);
  });

  it('another rate is sampled between the frames, none is dropped', async () => {
    const { loaded, plan } = await carryFigures(of({ axes: 2 }), of({ axes: 3 }), LIVELY, { framesPerSecond: 120 });
    expect(plan.motion.frameCount).toBe(241);
    // Half way between two frames of the source the arc between them counts: of these turns under 0.1 degrees off.
    expect(offTruth(loaded, of({ axes: 3 }), LIVELY).degrees).toBeLessThan(0.01);
  });

  it('keys of either sign are one motion', async () => {
    const bytes = await writeFigureGlb(of({ axes: 2 }), LIVELY);
    const document = await createNodeIO().readBinary(bytes);
    for (const channel of document.getRoot().listAnimations()[0].listChannels()) {
      const output = channel.getSampler()?.getOutput();
      if (channel.getTargetPath() !== 'rotation' || !output) continue;
      const values = Float32Array.from(output.getArray() ?? []);
      for (let key = 0; key < values.length / 4; key += 3) for (let k = 0; k < 4; k++) values[key * 4 + k] *= -1;
      output.setArray(values);
    }
    const flipped = await createNodeIO().writeBinary(document);
    const character = await writeFigureGlb(of({ axes: 9, spine: 5 }), null);
    const [plain, other] = [await carryBytes(bytes, character), await carryBytes(flipped, character)];
    other.source.motion.rotations.forEach((value, at) =>
      expect(Math.abs(value - plain.source.motion.rotations[at])).toBeLessThan(1e-6),
    );
  });
});

describe('a clip carried to its own figure', () => {
  /** Local transforms of all nodes at a time, by name. */
  async function localsOf(bytes: Uint8Array, t: number): Promise<Map<string, number[]>> {
    const loaded = await loadWithThree(bytes);
    playAt(loaded, 0, t);
    return new Map(
      [...objectsOf(loaded)].map(([name, { position, quaternion, scale }]) => {
        const sign = quaternion.w < 0 ? -1 : 1;
        return [name, [...position.toArray(), ...quaternion.toArray().map((v) => v * sign), ...scale.toArray()]];
      }),
    );
  }

  it('gives the same local transforms, keyed spares, sliding joints, scales and root included', async () => {
    const spec = of({ axes: 4 });
    const document = await createNodeIO().readBinary(await writeFigureGlb(spec, LIVELY));
    const [clip] = document.getRoot().listAnimations();
    const nodes = document.getRoot().listNodes();
    const named = (name: string) => nodes.find((node) => node.getName() === name);
    const times = clip.listSamplers()[0].getInput();
    const count = times?.getCount() ?? 0;
    const add = (name: string, path: 'rotation' | 'translation' | 'scale', valueAt: (t: number) => number[]) => {
      const size = path === 'rotation' ? 4 : 3;
      const values = new Float32Array(count * size);
      for (let key = 0; key < count; key++) values.set(valueAt(key / 30), key * size);
      for (const channel of clip.listChannels())
        if (channel.getTargetNode() === named(name) && channel.getTargetPath() === path) channel.dispose();
      const output = document
        .createAccessor()
        .setType(path === 'rotation' ? 'VEC4' : 'VEC3')
        .setArray(values)
        .setBuffer(document.getRoot().listBuffers()[0]);
      const sampler = document
        .createAnimationSampler()
        .setInput(times ?? null)
        .setOutput(output);
      clip.addSampler(sampler);
      clip.addChannel(
        document
          .createAnimationChannel()
          .setTargetNode(named(name) ?? null)
          .setTargetPath(path)
          .setSampler(sampler),
      );
    };
    const spin = (t: number) => new Quaternion().setFromAxisAngle(new Vector3(0.6, 0, 0.8), Math.sin(3 * t)).toArray();
    const slide = (name: string) => {
      const rest = named(name)?.getTranslation() ?? [0, 0, 0];
      return (t: number) => [rest[0] + 0.02 * Math.sin(2 * t), rest[1], rest[2] - 0.01 * t];
    };
    add('head_end', 'rotation', spin);
    add('left_LowerArm', 'translation', slide('left_LowerArm'));
    add('head_end', 'scale', (t) => [1 + t * 0.1, 1, 1]);
    add('ground', 'translation', (t) => [0.2 * t, 0, 0.5 * t]);
    add('ground', 'rotation', (t) => new Quaternion().setFromAxisAngle(new Vector3(0, 1, 0), 0.4 * t).toArray());
    const bytes = await createNodeIO().writeBinary(document);
    const { glb, plan } = await carryBytes(bytes, bytes);
    expect(plan.isSameSkeleton).toBe(true);
    for (const t of [0, 11 / 30, 40 / 30, 59 / 30]) {
      const [wanted, found] = [await localsOf(bytes, t), await localsOf(glb, t)];
      for (const { name } of makeFigure(spec))
        found.get(name)?.forEach((value, at) => {
          const off = Math.abs(value - (wanted.get(name)?.[at] ?? NaN));
          expect(off, `${name} ${at} at ${t}`).toBeLessThan(1e-6);
        });
    }
  });

  it('scaled by k it travels k times as far', async () => {
    const [small, large] = [of({ axes: 2 }), of({ axes: 2, unitsPerMetre: 1.5 })];
    const own = await carryFigures(small, small, LIVELY);
    const scaled = await carryFigures(small, large, LIVELY);
    for (const t of [0.4, 1.3]) {
      const [a, b] = [own, scaled].map(({ loaded }) => {
        playAt(loaded, 0, t);
        return placeOf(objectsOf(loaded).get('left_Hand'));
      });
      expect(b.distanceTo(a.multiplyScalar(1.5))).toBeLessThan(1e-5);
    }
  });
});

describe('mirrored motion', () => {
  it('gives mirrored places on a figure that is the same on both sides', async () => {
    const mirrored: MadeMotion = {
      ...LIVELY,
      hips: (t) => LIVELY.hips(t).multiply(new Vector3(-1, 1, 1)),
      turn: (line, u, t) => {
        const other = line.startsWith('left') ? line.replace('left', 'right') : line.replace('right', 'left');
        const { x, y, z, w } = LIVELY.turn(other, u, t);
        return new Quaternion(x, -y, -z, w);
      },
    };
    const to = of({ axes: 0, spine: 4 });
    const [plain, turned] = [
      await carryFigures(of({ axes: 3 }), to, LIVELY),
      await carryFigures(of({ axes: 3 }), to, mirrored),
    ];
    for (const t of [0.5, 1.7]) {
      for (const { loaded } of [plain, turned]) playAt(loaded, 0, t);
      const [a, b] = [objectsOf(plain.loaded), objectsOf(turned.loaded)];
      for (const { name } of makeFigure(to)) {
        const other = name.startsWith('left') ? name.replace('left', 'right') : name.replace('right', 'left');
        const wanted = placeOf(a.get(other)).multiply(new Vector3(-1, 1, 1));
        expect(placeOf(b.get(name)).distanceTo(wanted), name).toBeLessThan(1e-5);
      }
    }
  });
});

describe('the root', () => {
  const FROM = of({ axes: 2 });
  it.each([
    ['with a root of its own', of({ axes: 5 })],
    ['with one that is added', of({ axes: 5, hasRoot: false })],
  ])('%s takes over what it is asked to, and the hips stay where they were', async (_, to) => {
    const still = await carryFigures(FROM, to, LIVELY);
    for (const components of [
      ['horizontal'],
      ['horizontal', 'turn'],
      ['vertical'],
      ['horizontal', 'vertical', 'turn'],
    ] as const) {
      const moved = await carryFigures(FROM, to, LIVELY, { travel: { components: [...components] } });
      const objects = objectsOf(moved.loaded);
      const root = objects.get(to.hasRoot ? 'ground' : 'quay_root');
      for (const t of [0.3, 1, 59 / 30]) {
        playAt(still.loaded, 0, t);
        playAt(moved.loaded, 0, t);
        for (const [name, object] of objectsOf(still.loaded)) {
          if (name === 'ground' || !objects.has(name) || !/_|pelvis|head/.test(name)) continue;
          expect(placeOf(objects.get(name)).distanceTo(placeOf(object)), name).toBeLessThan(1e-6);
        }
        const travelled = LIVELY.hips(t).multiplyScalar(0.8 * to.legs);
        const at = placeOf(root);
        const wanted = new Vector3(
          components.includes('horizontal' as never) ? travelled.x : 0,
          components.includes('vertical' as never) ? travelled.y : 0,
          components.includes('horizontal' as never) ? travelled.z : 0,
        );
        expect(at.distanceTo(wanted)).toBeLessThan(1e-5);
        const heading = new Vector3(0, 0, 1).applyQuaternion(
          root?.getWorldQuaternion(new Quaternion()) ?? new Quaternion(),
        );
        const ahead = new Vector3(0, 0, 1);
        if (to.hasRoot) {
          const axes = makeFigure(to)[0].axes;
          heading
            .set(0, 0, 1)
            .applyQuaternion(
              (root?.getWorldQuaternion(new Quaternion()) ?? new Quaternion()).multiply(axes.clone().invert()),
            );
        }
        if (components.includes('turn' as never))
          ahead.applyQuaternion(new Quaternion().setFromAxisAngle(new Vector3(0, 1, 0), 0.9 * Math.sin(1.1 * t)));
        // The lean of the hips is no heading: what is left of it is the swing that the twist was taken from.
        expect((heading.angleTo(ahead) * 180) / Math.PI).toBeLessThan(
          components.includes('turn' as never) ? 0.5 : 1e-3,
        );
      }
    }
  });
});

describe('what a source does not tell', () => {
  it('a finger that it lacks moves between its neighbours, a thumb stays', async () => {
    const from = of({ axes: 2, fingers: 2, hasThumb: false });
    const to = of({ axes: 3 });
    const { loaded } = await carryFigures(from, to, LIVELY);
    playAt(loaded, 0, 1);
    const objects = objectsOf(loaded);
    const joints = makeFigure(to);
    const turn = (name: string) => {
      const joint = joints.find((each) => each.name === name);
      return (objects.get(name)?.getWorldQuaternion(new Quaternion()) ?? new Quaternion()).multiply(
        joint?.axes.clone().invert() ?? new Quaternion(),
      );
    };
    expect(degreesBetween(turn('left_Ring_2'), turn('left_Middle_2'))).toBeLessThan(0.01);
    expect(degreesBetween(turn('left_Thumb_2'), turn('left_Hand'))).toBeLessThan(0.01);
    // Curled at all, or the test would show nothing.
    expect(degreesBetween(turn('left_Ring_2'), turn('left_Hand'))).toBeGreaterThan(5);
  });

  it('digits of another count share the curl from the first joint to the last', async () => {
    const [from, to] = [of({ axes: 2, phalanges: 2 }), of({ axes: 3 })];
    const { loaded, source } = await carryFigures(from, to, LIVELY);
    const objects = objectsOf(loaded);
    const joints = makeFigure(to);
    playAt(loaded, 0, 1);
    const { motion } = source;
    const slots = motion.slots.flatMap(({ line }, at) => (line === 'rightMiddle' ? [at] : []));
    const truth = slots.map((slot) =>
      new Quaternion().fromArray(Array.from(motion.rotations), (30 * motion.slots.length + slot) * 4),
    );
    const found = [1, 2, 3].map((phalanx) => {
      const name = `right_Middle_${phalanx}`;
      const axes =
        joints
          .find((joint) => joint.name === name)
          ?.axes.clone()
          .invert() ?? new Quaternion();
      return (objects.get(name)?.getWorldQuaternion(new Quaternion()) ?? new Quaternion()).multiply(axes);
    });
    expect(degreesBetween(found[0], truth[0])).toBeLessThan(0.01);
    expect(degreesBetween(found[2], truth[1])).toBeLessThan(0.01);
    const [whole, half] = [degreesBetween(truth[0], truth[1]), degreesBetween(found[0], found[1])];
    expect(half / whole).toBeCloseTo(0.5, 3);
  });

  it('an arm without collar keeps its direction; what the shoulder would have moved is told', async () => {
    const { plan } = await carryFigures(of({ axes: 2 }), of({ axes: 7, hasClavicles: false }), LIVELY);
    // A collar of 15 cm turned by up to 0.12 rad about an axis across it: the chord.
    expect(plan.report.lostShoulderMetres.leftUpperArm).toBeCloseTo(2 * 0.15 * Math.sin(0.06), 3);
  });
});

describe('a skeleton without a tree', () => {
  /** The same joints, each by itself below the scene, as some formats leave them. */
  async function flattened(bytes: Uint8Array): Promise<Uint8Array> {
    const document = await createNodeIO().readBinary(bytes);
    const scene = document.getRoot().listScenes()[0];
    const worlds = document
      .getRoot()
      .listNodes()
      .map((node) => ({ node, matrix: node.getWorldMatrix() }));
    for (const { node, matrix } of worlds) {
      node.getParentNode()?.removeChild(node);
      node.setMatrix(matrix);
      scene.addChild(node);
    }
    return createNodeIO().writeBinary(document);
  }

  it('is carried to with its joints held together, also onto the reference pose that its own tree cannot reach', async () => {
    const to = of({ axes: 5, armsDownDeg: 30, hasRoot: false });
    const { loaded } = await carryBytes(
      await writeFigureGlb(of({ axes: 2 }), LIVELY),
      await flattened(await writeFigureGlb(to, null)),
    );
    const whole = await carryFigures(of({ axes: 2 }), { ...to, axes: 5 }, LIVELY);
    for (const t of [0.4, 1.2]) {
      playAt(loaded, 0, t);
      playAt(whole.loaded, 0, t);
      const [flat, tree] = [objectsOf(loaded), objectsOf(whole.loaded)];
      for (const { name, role } of makeFigure(to)) {
        if (role === null) continue;
        expect(placeOf(flat.get(name)).distanceTo(placeOf(tree.get(name))), name).toBeLessThan(1e-4);
      }
    }
  });
});
