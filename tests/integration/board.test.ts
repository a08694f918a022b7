import { readFileSync } from 'node:fs';
import { unzipSync } from 'fflate';
import { AnimationMixer, Object3D, Vector3, type Bone } from 'three';
import { BVHLoader } from 'three/addons/loaders/BVHLoader.js';
import { describe, expect, it } from 'vitest';
import { GET as getBoard, POST as postBoard } from '@/app/api/board/route';
import { POST as postOut } from '@/app/api/motions/out/route';
import { GET as getOut } from '@/app/api/motions/out/[outId]/route';
import { POST as postShelf } from '@/app/api/motions/route';
import { MotionManifestSchema, type Board, type MotionOut, type WrittenOut } from '@/contract/board';
import type { JobView } from '@/contract/jobs';
import type { CheckRow } from '@/contract/studio';
import type { Problem } from '@/core/errors/yarvo-error';
import { decodeMotion } from '@/core/motion/motion-file';
import { drillResults } from '@/server/board/drill-results';
import { findCharacter } from '@/server/characters/character-repository';
import { changeFit, readFitView } from '@/server/fits/change-fit';
import { checkMany } from '@/server/fits/check-many';
import { setDrillSource } from '@/server/fits/drill-results';
import { unwaive, waive } from '@/server/fits/repair-fit';
import { findCurrentFit } from '@/server/fits/fit-repository';
import { getBlob } from '@/server/blobs/blob-store';
import { handOff } from '@/server/packs/hand-off';
import { findHandoff } from '@/server/packs/handoff-repository';
import { ManifestSchema } from '@/pipeline/write';
import { addFile } from '@/server/intake/add-files';
import { databaseQueue } from '@/server/jobs/database-queue';
import { loadWithThree, playAt } from '../helpers/three-oracle';
import { withFreshDatabase } from './fresh-database';

withFreshDatabase();

const demo = (name: string) => new Uint8Array(readFileSync(`demo/files/${name}`));
const take = async (file: string, name = file) =>
  (await addFile({ bytes: demo(file), fileName: name, author: 'Maren' })).id;
const post = (body: unknown) =>
  new Request('http://127.0.0.1/api', {
    method: 'POST',
    headers: { 'content-type': 'application/json', cookie: 'yarvo-who=Odo' },
    body: JSON.stringify(body),
  });

async function overJob(response: Response): Promise<JobView> {
  const { job } = (await response.json()) as { job: JobView };
  for (;;) {
    const now = await databaseQueue.find(job.id);
    if (now && now.state !== 'queued' && now.state !== 'running') return now;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}
const carry = async (characterIds: string[], motionKeys: string[]) =>
  overJob(await postBoard(post({ characterIds, motionKeys })));
const board = async (): Promise<Board> =>
  (await (await getBoard(new Request('http://127.0.0.1/api/board'))).json()) as Board;
const cellOf = ({ cells }: Board, characterId: string, motionKey: string) =>
  cells.find((cell) => cell.characterId === characterId && cell.motionKey === motionKey);

const OUT: Omit<MotionOut, 'characterIds' | 'motionKeys'> = {
  formats: ['glb', 'bvh', 'yarvomotion'],
  hasMesh: true,
  template: '{character}/TL_{character}-{motion}-v{version}',
  framesPerSecond: null,
  root: null,
};
async function writeOut(wanted: Partial<MotionOut>) {
  const job = await overJob(await postOut(post({ ...OUT, ...wanted })));
  const result = job.result as WrittenOut;
  const answer = await getOut(new Request('http://127.0.0.1/'), { params: Promise.resolve({ outId: result.id }) });
  const files = unzipSync(new Uint8Array(await answer.arrayBuffer()));
  const manifest = MotionManifestSchema.parse(JSON.parse(new TextDecoder().decode(files['manifest.json'])));
  return { job, files, manifest };
}

describe('the board', () => {
  it('names all humanoids and motions, and says of each cell what became of it', async () => {
    const lamplighter = await take('lamplighter.glb');
    const lantern = await take('lantern.glb');
    const before = await board();
    expect(before.characters.map(({ name }) => name)).toEqual(['Lamplighter']);
    expect(before.motions.filter(({ isHouse }) => isHouse)).toHaveLength(18);
    expect(before.cells).toEqual([]);
    const job = await carry([lamplighter, lantern], ['house-walk', 'house-crouch']);
    expect(job.state).toBe('done');
    expect(job.result).toEqual({ cells: 4, failed: 2, gone: [] });
    const after = await board();
    expect(cellOf(after, lamplighter, 'house-walk')).toMatchObject({
      state: 'carried',
      framesPerSecond: 60,
      author: 'Odo',
    });
    expect(cellOf(after, lamplighter, 'house-run')).toBeUndefined();
    const query = new Request(`http://127.0.0.1/api/board?characters=${lantern}`);
    const one = (await (await getBoard(query)).json()) as Board;
    expect(one.characters).toEqual([{ id: lantern, name: 'Lantern', canCarry: false }]);
    expect(cellOf(one, lantern, 'house-walk')).toMatchObject({ state: 'failed', problem: { code: 'no-figure' } });
  });

  it('makes what the drill flagged findings of the character, until it stands otherwise', async () => {
    setDrillSource(drillResults);
    const id = await take('eel-seller.glb', 'drilled-seller.glb');
    const flagged = async () => {
      const character = await findCharacter(id);
      if (!character) throw new Error('lost');
      const { findings, revision } = await readFitView(character);
      return { revision, own: findings.filter(({ check }) => check === 'drill-flags') };
    };
    expect((await flagged()).own).toEqual([]);
    // Her arms hang off the reference pose: her feet and knees show it.
    await carry([id], ['house-crouch']);
    const { own, revision } = await flagged();
    expect(own).toMatchObject([{ severity: 'caution', parts: ['Crouch'], moment: { motion: 'house-crouch' } }]);
    expect(own[0].sentence).toMatch(/^Crouch, frame \d+: /);
    const { value: row } = await checkMany([id]).next();
    expect((row as CheckRow).cells.find(({ check }) => check === 'drill-flags')).toMatchObject({
      severity: 'caution',
      count: 1,
    });
    const waiver = { finding: own[0].key, reason: 'she never crouches in the game' };
    expect((await waive(id, waiver, { baseRevision: revision, author: 'Odo' })).ok).toBe(true);
    expect((await flagged()).own).toEqual([]);
    await unwaive(id, { finding: own[0].key }, { baseRevision: revision + 1, author: 'Odo' });
    expect((await flagged()).own).toHaveLength(1);
    await changeFit(id, { kind: 'align-posture' }, { baseRevision: revision + 2, author: 'Odo' });
    expect((await flagged()).own).toEqual([]);
  });

  it('calls a cell old when the fit or the motion changed, and carried again when it was carried anew', async () => {
    const id = await take('net-mender.glb');
    const house = { entry: 'walk', settings: null };
    expect((await postShelf(post({ house, name: 'No' }))).status).toBe(422);
    const shelved = await postShelf(post({ house: { entry: 'crouch', settings: null }, name: 'Deep crouch' }));
    const { motions } = (await shelved.json()) as { motions: { id: string }[] };
    const key = motions[0].id;
    await carry([id], [key, 'house-idle']);
    expect(cellOf(await board(), id, key)?.state).toBe('carried');
    const fit = await findCurrentFit(id);
    await changeFit(id, { kind: 'clear', role: 'leftToes' }, { baseRevision: fit?.revision ?? 0, author: 'Odo' });
    expect(cellOf(await board(), id, key)?.state).toBe('old');
    await carry([id], [key]);
    const now = await board();
    expect(cellOf(now, id, key)?.state).toBe('carried');
    expect(cellOf(now, id, 'house-idle')?.state).toBe('old');
  });

  it('characters of one skeleton share a clip where they come to the same, and say how far off where not', async () => {
    const first = await take('lamplighter.glb');
    const twin = await take('lamplighter.glb', 'lamplighter-by-night.glb');
    await carry([first, twin], ['house-walk']);
    const shared = await board();
    const cells = [first, twin].map((id) => cellOf(shared, id, 'house-walk'));
    expect(cells.filter((cell) => cell?.sharesWith === null)).toHaveLength(1);
    expect(cells.find((cell) => cell?.sharesWith !== null)?.differsDeg).toBeLessThan(0.01);
    const fit = await findCurrentFit(twin);
    await changeFit(
      twin,
      {
        kind: 'set-carrying',
        change: { offsets: [{ id: 'a', role: 'leftLowerArm', about: 'hinge', degrees: 12, isOn: true }] },
      },
      { baseRevision: fit?.revision ?? 0, author: 'Odo' },
    );
    await carry([first, twin], ['house-walk']);
    const apart = await board();
    const differs = [first, twin].map((id) => cellOf(apart, id, 'house-walk'));
    expect(differs.every((cell) => cell?.sharesWith === null)).toBe(true);
    expect(Math.max(...differs.map((cell) => cell?.differsDeg ?? 0))).toBeCloseTo(12, 1);
  });
});

describe('motions written out', () => {
  it('come back by independent loaders: GLB and BVH stand alike in every joint, and the motion file is whole', async () => {
    const id = await take('stilt-walker.glb');
    const { manifest, files } = await writeOut({ characterIds: [id], motionKeys: ['house-walk'], framesPerSecond: 30 });
    expect(manifest.files.map(({ path }) => path).sort()).toEqual([
      'stilt-walker/TL_stilt-walker-walk-v001.bvh',
      'stilt-walker/TL_stilt-walker-walk-v001.glb',
      'stilt-walker/TL_stilt-walker-walk-v001.yarvomotion',
    ]);
    expect(manifest.files[0]).toMatchObject({ character: 'Stilt walker', motion: 'Walk', framesPerSecond: 30 });
    const motion = decodeMotion(files['stilt-walker/TL_stilt-walker-walk-v001.yarvomotion']);
    expect(motion.framesPerSecond).toBe(30);
    const loaded = await loadWithThree(files['stilt-walker/TL_stilt-walker-walk-v001.glb']);
    const text = new TextDecoder().decode(files['stilt-walker/TL_stilt-walker-walk-v001.bvh']);
    const { skeleton, clip } = new BVHLoader().parse(text);
    const scene = new Object3D().add(skeleton.bones[0]);
    const mixer = new AnimationMixer(scene);
    mixer.clipAction(clip).play();
    const height = 2.5;
    let compared = 0;
    for (const seconds of [0, 0.4, 1.1, 1.9]) {
      mixer.setTime(seconds);
      scene.updateMatrixWorld(true);
      playAt(loaded, 0, seconds);
      for (const bone of skeleton.bones) {
        const other = loaded.scene.getObjectByName(bone.name);
        if (!other) continue;
        const [a, b] = [bone, other].map((each) => each.getWorldPosition(new Vector3()));
        expect(a.distanceTo(b), `${bone.name} at ${seconds}`).toBeLessThan(1e-4 * height);
        compared++;
      }
    }
    expect(compared).toBeGreaterThan(80);
  });

  it('never take a name twice, leave out the mesh where that is wanted, and put the travel into the root', async () => {
    const id = await take('eel-seller.glb');
    const wanted = { characterIds: [id], motionKeys: ['house-walk'], formats: ['glb' as const] };
    const whole = await writeOut(wanted);
    const bare = await writeOut({ ...wanted, hasMesh: false, root: ['horizontal'] });
    expect(whole.manifest.files[0].path).toBe('eel-seller/TL_eel-seller-walk-v001.glb');
    expect(bare.manifest.files[0]).toMatchObject({
      path: 'eel-seller/TL_eel-seller-walk-v002.glb',
      root: ['horizontal'],
    });
    const [withMesh, without] = [whole, bare].map(({ files, manifest }) => files[manifest.files[0].path]);
    expect(without.length).toBeLessThan(withMesh.length * 0.8);
    const meshes = (await loadWithThree(without)).scene.getObjectsByProperty('isMesh', true);
    expect(meshes).toEqual([]);
  });

  it('without meshes, characters of one skeleton get one set of files, and the list says so', async () => {
    const first = await take('lamplighter.glb');
    const twin = await take('lamplighter.glb', 'lamplighter-by-night.glb');
    const { manifest } = await writeOut({
      characterIds: [first, twin],
      motionKeys: ['house-idle'],
      hasMesh: false,
      formats: ['glb'],
    });
    expect(manifest.files).toHaveLength(1);
    expect(manifest.files[0].alsoFor).toHaveLength(1);
  });

  it.each([
    ['{character}', /the same name/],
    ['{clip}', /no part/],
    ['../{motion}', /has no name/],
  ])('a template %s that cannot be is refused before anything is written', async (template, message) => {
    const id = await take('lamplighter.glb');
    const answer = await postOut(
      post({ ...OUT, characterIds: [id], motionKeys: ['house-walk', 'house-run'], template }),
    );
    expect(answer.status).toBe(422);
    expect(((await answer.json()) as { error: Problem }).error.message).toMatch(message);
    expect(await databaseQueue.list({ kind: 'motion-out' })).toEqual([]);
  });
});

describe('motions of a pack', () => {
  it('go along as clips for its skeleton: they play on the handed-off character by name', async () => {
    const id = await take('eel-seller.glb');
    const fit = await findCurrentFit(id);
    const aligned = await changeFit(id, { kind: 'align-posture' }, { baseRevision: fit?.revision ?? 0, author: 'Odo' });
    if (!aligned.ok) throw new Error(aligned.message);
    const set = await changeFit(
      id,
      { kind: 'set-pack-motions', motions: ['house-walk', 'house-sit'] },
      { baseRevision: aligned.fit.revision, author: 'Odo' },
    );
    if (!set.ok) throw new Error(set.message);
    const made = await handOff(id, 'Odo');
    const { blobHash } = (await findHandoff(id, made?.version ?? 0)) ?? {};
    const files = unzipSync((await getBlob(blobHash ?? '')) ?? new Uint8Array());
    const manifest = ManifestSchema.parse(JSON.parse(new TextDecoder().decode(files['eel-seller/manifest.json'])));
    expect(manifest.motions.map(({ path, motion }) => [path, motion])).toEqual([
      ['eel-seller/motions/walk.glb', 'Walk'],
      ['eel-seller/motions/sit-and-stand.glb', 'Sit and stand'],
    ]);
    expect(manifest.files.map(({ path }) => path)).toContain('eel-seller/motions/walk.glb');
    const character = await loadWithThree(files['eel-seller/eel-seller.glb']);
    const clip = await loadWithThree(files['eel-seller/motions/walk.glb']);
    const mixer = new AnimationMixer(character.scene);
    mixer.clipAction(clip.animations[0]).play();
    let compared = 0;
    for (const seconds of [0.1, 0.8, 1.7]) {
      mixer.setTime(seconds);
      character.scene.updateMatrixWorld(true);
      playAt(clip, 0, seconds);
      character.scene.traverse((object) => {
        if (!(object as Bone).isBone) return;
        const other = clip.scene.getObjectByName(object.name);
        const [a, b] = [object, other ?? object].map((each) => each.getWorldPosition(new Vector3()));
        expect(a.distanceTo(b), object.name).toBeLessThan(1e-4 * 2);
        if (other) compared++;
      });
    }
    expect(compared).toBeGreaterThan(100);
  });

  it('that are gone from the shelf stop the handoff by name', async () => {
    const id = await take('eel-seller.glb');
    const fit = await findCurrentFit(id);
    const set = await changeFit(
      id,
      { kind: 'set-pack-motions', motions: ['00000000-0000-4000-8000-000000000000'] },
      { baseRevision: fit?.revision ?? 0, author: 'Odo' },
    );
    expect(set.ok).toBe(true);
    await expect(handOff(id, 'Odo')).rejects.toThrow(/no longer on the shelf/);
  });
});
