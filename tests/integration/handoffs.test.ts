import { createHash } from 'node:crypto';
import { unzipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { GET as getPack } from '@/app/api/characters/[characterId]/handoffs/[version]/pack/route';
import { sendHandoff } from './over-http';
import { CrosswalkSchema } from '@/core/plan/crosswalk';
import type { Problem } from '@/core/errors/yarvo-error';
import { ManifestSchema } from '@/pipeline/write';
import { readCharacter } from '@/server/views/read-characters';
import { addFile } from '@/server/intake/add-files';
import { changeFit } from '@/server/fits/change-fit';
import { eelSeller } from '../../demo/cast/eel-seller';
import { writeFigure } from '../../demo/figure/write-figure';
import { countRows, withFreshDatabase } from './fresh-database';

withFreshDatabase();

const newCharacter = async () =>
  (await addFile({ bytes: await writeFigure(eelSeller()), fileName: 'eel-seller.glb', author: 'Maren' })).id;
const handOff = (characterId: string) =>
  sendHandoff(new Request('http://yarvo.test/', { method: 'POST', headers: { cookie: 'yarvo-who=Odo' } }), {
    params: Promise.resolve({ characterId }),
  });
const pack = async (characterId: string, version: string) =>
  new Uint8Array(
    await (
      await getPack(new Request('http://yarvo.test/'), { params: Promise.resolve({ characterId, version }) })
    ).arrayBuffer(),
  );

describe('handing off', () => {
  it('waits while a blocker is open, says which, and keeps nothing', async () => {
    const id = await newCharacter();
    const response = await handOff(id);
    expect(response.status).toBe(409);
    const { error } = (await response.json()) as { error: Problem };
    expect(error.code).toBe('blocked');
    expect(error.message).toMatch(/segments are off the T-pose/);
    expect((await countRows()).handoffs).toBe(0);
  });

  it('writes a pack whose manifest holds for every file in it', async () => {
    const id = await newCharacter();
    await changeFit(id, { kind: 'align-posture' }, { baseRevision: 0, author: 'Maren' });
    const response = await handOff(id);
    expect(await response.json()).toEqual({ version: 1, fileName: 'eel-seller-v001.zip' });
    const files = unzipSync(await pack(id, '1'));
    const manifest = ManifestSchema.parse(JSON.parse(new TextDecoder().decode(files['eel-seller/manifest.json'])));
    expect(manifest).toMatchObject({
      signedOffBy: 'Odo',
      fitRevision: 1,
      version: 1,
      readBack: { validator: { errors: 0 }, failures: [] },
    });
    expect(manifest.files.map((file) => file.path).sort()).toEqual(
      Object.keys(files)
        .filter((path) => !path.endsWith('manifest.json'))
        .sort(),
    );
    for (const file of manifest.files)
      expect(createHash('sha256').update(files[file.path]).digest('hex')).toBe(file.sha256);
    const crosswalk = CrosswalkSchema.parse(
      JSON.parse(new TextDecoder().decode(files['eel-seller/eel-seller.crosswalk.json'])),
    );
    expect(crosswalk.bones.find((bone) => bone.from === 'bf_fore.l')).toMatchObject({
      to: 'quay_forearm_left',
      role: 'leftLowerArm',
      spare: null,
    });
    expect(crosswalk.bones.find((bone) => bone.from === 'bf_fore-wring.l')).toMatchObject({
      to: 'bf_fore_wring_l',
      role: null,
      spare: 'twist',
    });
    expect((await readCharacter(id))?.state).toBe('handed off');
  });

  it('counts versions up, overwrites nothing, and reopens on a change', async () => {
    const id = await newCharacter();
    await changeFit(id, { kind: 'align-posture' }, { baseRevision: 0, author: 'Maren' });
    await handOff(id);
    const first = await pack(id, '1');
    await changeFit(id, { kind: 'clear', role: 'jaw' }, { baseRevision: 1, author: 'Maren' });
    expect((await readCharacter(id))?.state).toBe('reopened');
    await handOff(id);
    expect((await readCharacter(id))?.handoffs.map((handoff) => handoff.version)).toEqual([2, 1]);
    expect(Buffer.compare(Buffer.from(await pack(id, '1')), Buffer.from(first))).toBe(0);
  });
});
