import { Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { runFirstPass } from '@/pipeline/match';
import { QUAY } from '@/core/definition/quay';
import { initialFit } from '@/core/fit/fit';
import { rebaseFit } from '@/core/fit/rebase-fit';
import { applyAction } from '@/core/fit/actions/fit-actions';
import { NO_DECISIONS, type IntakeDecisions } from '@/core/intake/decisions';
import { fromAxisAngle, multiply, normalise, type Quat } from '@/core/math/quat';
import { normalise as unit, type Vec3 } from '@/core/math/vec3';
import type { Rig } from '@/core/rig/rig';
import { interpret } from '@/pipeline/read';
import { createNodeIO } from '@/formats/gltf/node-io';
import { readGlb } from '@/pipeline/read-files';
import { CAST } from '../../demo/cast/cast';
import { lamplighter } from '../../demo/cast/lamplighter';
import { writePng } from '../../demo/figure/png';
import { writeFigure, type Figure } from '../../demo/figure/write-figure';
import { randomFrom } from '../fuzz/damage';
import { driveTo, loadWithThree, skinnedVertices } from '../helpers/three-oracle';

const decide = (change: Partial<IntakeDecisions>): IntakeDecisions => ({ ...NO_DECISIONS, ...change });
const cast = async (name: string, change: Partial<IntakeDecisions> = {}) =>
  interpret({ files: [{ path: name, bytes: await CAST[name].make() }], main: name, decisions: decide(change) });
const file = async (path: string, figure: Figure) => ({ path, bytes: await writeFigure(figure) });

const largest = (a: readonly Vector3[], b: readonly Vector3[]): number => {
  expect(a.length).toBe(b.length);
  return a.reduce((most, point, at) => Math.max(most, point.distanceTo(b[at])), 0);
};

/** The same random turn for every bone of a name, whatever rig it is in; the ground, which leads only one of two skeletons, stays. */
function randomTurns(rig: Rig, seed: number, nameOf: (name: string) => string = (name) => name): Record<string, Quat> {
  return Object.fromEntries(
    rig.bones
      .filter((bone) => bone.name !== 'ground')
      .map((bone) => {
        const random = randomFrom(
          [...nameOf(bone.name)].reduce((sum, letter) => sum * 31 + letter.charCodeAt(0), seed),
        );
        const axis = unit([random() - 0.5, random() - 0.5, random() - 0.5] as Vec3) ?? ([0, 1, 0] as Vec3);
        return [
          String(bone.index),
          normalise(multiply(bone.rest.rotation, fromAxisAngle(axis, (random() - 0.5) * 1.6))),
        ];
      }),
  );
}

async function posedVertices(glb: Uint8Array, rig: Rig, rotations: Record<string, Quat>): Promise<Vector3[]> {
  const loaded = await loadWithThree(glb);
  driveTo(loaded, rig, { rotations, shift: null });
  return skinnedVertices(loaded);
}

describe('folding a copied skeleton', () => {
  it('moves the mesh just as before, in random poses: 1e-5 m', async () => {
    const apart = await cast('ferry-pilot.fbx');
    expect(apart.sheet.copies).toHaveLength(13);
    const folded = await cast('ferry-pilot.fbx', {
      folds: apart.sheet.copies.map(({ from, into }) => ({ from, into })),
    });
    expect(folded.rig.bones).toHaveLength(apart.rig.bones.length - 13);
    expect(folded.rig.bones.some((bone) => bone.name.endsWith('.coat'))).toBe(false);
    const plain = (name: string) => name.replace(/\.coat$/, '');
    for (const seed of [1, 2, 3]) {
      const before = await posedVertices(apart.glb, apart.rig, randomTurns(apart.rig, seed, plain));
      const after = await posedVertices(folded.glb, folded.rig, randomTurns(folded.rig, seed));
      // The file counts in centimetres.
      expect(largest(before, after) * 0.01).toBeLessThan(1e-5);
    }
  });

  it('keeps what a person decided with its bone, and drops nothing that was settled', async () => {
    const apart = await cast('ferry-pilot.fbx');
    const folds = apart.sheet.copies.map(({ from, into }) => ({ from, into }));
    const folded = await cast('ferry-pilot.fbx', { folds });
    const before = runFirstPass(apart.rig, QUAY);
    const start = initialFit(before.match, QUAY);
    const hand = start.assignments.leftHand.boneIndex;
    const settled = applyAction(
      start,
      { kind: 'settle', roles: ['leftHand'] },
      { rig: apart.rig, ...before, definition: QUAY },
    );
    const cleared = settled.ok
      ? applyAction(
          settled.state,
          { kind: 'clear', role: 'rightToes' },
          { rig: apart.rig, ...before, definition: QUAY },
        )
      : settled;
    if (!cleared.ok) throw new Error(cleared.message);
    const after = runFirstPass(folded.rig, QUAY);
    const carried = rebaseFit(
      cleared.state,
      { rig: apart.rig, match: before.match, origins: null },
      { rig: folded.rig, match: after.match, origins: folded.origins },
      QUAY,
      decide({ folds }),
    );
    expect(folded.rig.bones[carried.assignments.leftHand.boneIndex].name).toBe(apart.rig.bones[hand].name);
    expect(carried.assignments.leftHand.state).toBe('settled');
    expect(carried.assignments).not.toHaveProperty('rightToes');
    for (const [role, { boneIndex }] of Object.entries(carried.assignments))
      expect(folded.rig.bones[boneIndex].name, role).toBe(apart.rig.bones[start.assignments[role].boneIndex].name);
  });
});

describe('parts of one character', () => {
  it('joined on one skeleton move as the whole figure does', async () => {
    const whole = lamplighter();
    const isHat = (part: Figure['parts'][number]) => part.material === 'hat' || part.material === 'scarf';
    const inHat = new Set(whole.parts.filter(isHat).flatMap((part) => part.weights.flat().map(({ bone }) => bone)));
    const above = (name: string | null): string[] =>
      name === null ? [] : [name, ...above(whole.joints.find((joint) => joint.name === name)?.parent ?? null)];
    const kept = new Set([...inHat].flatMap(above));
    const files = [
      await file('body.glb', { ...whole, parts: whole.parts.filter((part) => !isHat(part)) }),
      await file('hat.glb', {
        ...whole,
        joints: whole.joints.filter((joint) => kept.has(joint.name)),
        parts: whole.parts.filter(isHat),
        clips: [],
      }),
    ];
    const joined = await interpret({ files, main: 'body.glb', decisions: decide({ parts: ['hat.glb'] }) });
    const single = await interpret({
      files: [await file('whole.glb', whole)],
      main: 'whole.glb',
      decisions: NO_DECISIONS,
    });
    expect(joined.sheet.parts).toEqual([{ path: 'hat.glb', folded: kept.size, added: [] }]);
    expect(joined.rig.bones.map((bone) => bone.name).sort()).toEqual(single.rig.bones.map((bone) => bone.name).sort());
    expect(joined.rig.mesh.vertexCount).toBe(single.rig.mesh.vertexCount);
    const key = (points: readonly Vector3[]) =>
      points
        .map((point) =>
          point
            .toArray()
            .map((value) => value.toFixed(4))
            .join(' '),
        )
        .sort();
    const a = await posedVertices(joined.glb, joined.rig, randomTurns(joined.rig, 5));
    const b = await posedVertices(single.glb, single.rig, randomTurns(single.rig, 5));
    const mean = (points: readonly Vector3[]) =>
      points.reduce((sum, point) => sum.add(point), new Vector3()).divideScalar(points.length);
    expect(mean(a).distanceTo(mean(b))).toBeLessThan(1e-5);
    const [ours, theirs] = [new Set(key(a)), key(b)];
    expect(theirs.filter((place) => ours.has(place)).length).toBeGreaterThan(theirs.length * 0.97);
  });
});

describe('which pose counts', () => {
  /** A file whose nodes stand in another pose than the one its mesh was bound in. */
  async function posedFile(): Promise<Uint8Array> {
    const document = await createNodeIO().readBinary(await writeFigure(lamplighter()));
    for (const [name, sign] of [
      ['LeftUpperArm', -1],
      ['RightUpperArm', 1],
    ] as const) {
      const node = document
        .getRoot()
        .listNodes()
        .find((candidate) => candidate.getName() === name);
      node?.setRotation([...fromAxisAngle([0, 0, 1], sign * 0.9)]);
    }
    return createNodeIO().writeBinary(document);
  }
  const postureOf = async (decisions: IntakeDecisions, bytes: Uint8Array) => {
    const made = await interpret({ files: [{ path: 'posed.glb', bytes }], main: 'posed.glb', decisions });
    return { ...made, down: made.rig.bones.find((bone) => bone.name === 'LeftHand')?.restWorld[13] ?? 0 };
  };

  it('the sheet measures rest against bind, and the bind pose can be taken', async () => {
    const bytes = await posedFile();
    const asFound = await postureOf(NO_DECISIONS, bytes);
    const bind = asFound.sheet.poses.find((pose) => pose.pose === 'bind');
    expect(bind?.maxDegrees).toBeCloseTo((0.9 * 180) / Math.PI, 3);
    const taken = await postureOf(decide({ pose: { kind: 'bind' } }), bytes);
    expect(asFound.down).toBeLessThan(taken.down - 0.3);
    const original = await interpret({
      files: [await file('t.glb', lamplighter())],
      main: 't.glb',
      decisions: NO_DECISIONS,
    });
    for (const bone of taken.rig.bones) {
      const twin = original.rig.bones.find((candidate) => candidate.name === bone.name);
      bone.restWorld.forEach((value, at) => expect(value, bone.name).toBeCloseTo(twin?.restWorld[at] ?? NaN, 5));
    }
    expect(taken.sheet.poses).toEqual(asFound.sheet.poses);
  });

  it('a frame of a clip can be taken, and dropped from the clip', async () => {
    const bytes = await writeFigure(lamplighter());
    // A quarter through, the head is turned as far as it goes: 32 degrees.
    const taken = await postureOf(decide({ pose: { kind: 'frame', clip: 0, frame: 15, isDropped: false } }), bytes);
    const dropped = await postureOf(decide({ pose: { kind: 'frame', clip: 0, frame: 15, isDropped: true } }), bytes);
    const head = (rig: Rig) => rig.bones.find((bone) => bone.name === 'Head') as Rig['bones'][number];
    expect(
      Math.abs(2 * Math.atan2(head(taken.rig).rest.rotation[1], head(taken.rig).rest.rotation[3])) * (180 / Math.PI),
    ).toBeCloseTo(32, 1);
    expect(dropped.rig.clips[0].keyCount).toBe(taken.rig.clips[0].keyCount - 1);
    const first = await postureOf(decide({ pose: { kind: 'frame', clip: 0, frame: 0, isDropped: true } }), bytes);
    expect(first.rig.clips[0].durationSeconds).toBeCloseTo(2 - 1 / 30, 3);
    await expect(
      postureOf(decide({ pose: { kind: 'frame', clip: 0, frame: 999, isDropped: false } }), bytes),
    ).rejects.toThrow(/ends before frame 999/);
  });
});

describe('extras, clips and textures', () => {
  it('a lantern in the hand is listed with what it takes, left out, and the file stays as it was', async () => {
    const kept = await cast('bell-ringer.dae');
    const lantern = kept.sheet.extras.find((extra) => extra.name === 'Laterne');
    expect(lantern).toMatchObject({ kind: 'rigid-mesh', boneCount: 0, canLeaveOut: true });
    expect(kept.rig.bones[lantern?.parentBone ?? -1].name).toBe('Hand rechts');
    const out = await cast('bell-ringer.dae', { leftOut: [lantern?.nodeIndex ?? -1] });
    expect(kept.rig.mesh.vertexCount - out.rig.mesh.vertexCount).toBe(lantern?.vertexCount);
    expect(out.rig.extras.map((extra) => extra.name)).not.toContain('Laterne');
    expect(out.sheet.extras).toEqual(kept.sheet.extras);
    expect((await readGlb(out.glb, 'out')).rig.bones.map((bone) => bone.name)).toEqual(
      kept.rig.bones.map((bone) => bone.name),
    );
  });

  it("a skeleton that the figure's mesh is bound to cannot be left out by half", async () => {
    const apart = await cast('ferry-pilot.fbx');
    const coat = apart.sheet.extras.find((extra) => extra.kind === 'further-root');
    expect(coat).toMatchObject({ name: 'waist.coat', boneCount: 13 });
    const out = await cast('ferry-pilot.fbx', { leftOut: [coat?.nodeIndex ?? -1] });
    expect(out.rig.bones).toHaveLength(apart.rig.bones.length - 13);
    expect(out.rig.mesh.vertexCount).toBe(apart.rig.mesh.vertexCount - (coat?.vertexCount ?? 0));
  });

  it('clips are left out one by one', async () => {
    const out = await cast('ferry-pilot.fbx', { clipsLeftOut: [0] });
    expect(out.rig.clips.map((clip) => clip.name)).toEqual(['Look aft']);
    expect(out.rig.clips[0].framesPerSecond).toBe(30);
    expect(out.sheet.clips).toHaveLength(2);
  });

  it('a missing texture is said, and drawn once it is supplied', async () => {
    const missing = await cast('ferry-pilot.fbx');
    expect(missing.rig.source.textures).toMatchObject([
      { name: 'textures/oilcloth.png', status: 'missing', purposes: ['colour'] },
    ]);
    const png = writePng(8, 4, () => [190, 150, 40]);
    const supplied = await interpret({
      files: [
        { path: 'ferry-pilot.fbx', bytes: await CAST['ferry-pilot.fbx'].make() },
        { path: 'supplied-1/OilCloth.png', bytes: png, isSupplied: true },
      ],
      main: 'ferry-pilot.fbx',
      decisions: decide({ supplied: ['supplied-1/OilCloth.png'] }),
    });
    expect(supplied.rig.source.textures).toMatchObject([
      { status: 'supplied', width: 8, height: 4, bytes: png.length },
    ]);
    expect((await readGlb(supplied.glb, 'supplied')).document.getRoot().listTextures()).toHaveLength(1);
  });
});
