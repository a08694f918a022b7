import { createHash } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { GET as getPortrait } from '@/app/api/portraits/[hash]/route';
import { GET as getFile } from '@/app/api/characters/[characterId]/file/route';
import { GET as listCharacters } from '@/app/api/characters/route';
import { sendFiles } from './over-http';
import { GET as getCharacter } from '@/app/api/characters/[characterId]/route';
import type { CharacterView, RosterRow } from '@/contract/character-view';
import type { Problem } from '@/core/errors/yarvo-error';
import { MAX_FILE_BYTES } from '@/formats/gltf/glb-container';
import { eelSeller } from '../../demo/cast/eel-seller';
import { writeFigure } from '../../demo/figure/write-figure';
import { countRows, withFreshDatabase } from './fresh-database';

withFreshDatabase();

const upload = (bytes: Uint8Array, name: string, headers: Record<string, string> = {}) =>
  sendFiles(
    new Request(`http://yarvo.test/api/characters?name=${encodeURIComponent(name)}`, {
      method: 'POST',
      body: bytes as BodyInit,
      headers,
    }),
  );
/** The one character of an upload. */
const taken = async (response: Response) =>
  ((await response.json()) as { characters: { id: string; name: string }[] }).characters[0];
const context = (characterId: string) => ({ params: Promise.resolve({ characterId }) });
const request = new Request('http://yarvo.test/');
const NOTHING = { characters: 0, fits: 0, changes: 0, blobs: 0, chunks: 0, handoffs: 0 };

describe('adding a file', () => {
  it('keeps it byte for byte and lists it with doubts and blockers', async () => {
    const bytes = await writeFigure(eelSeller());
    const response = await upload(bytes, 'eel-seller.glb', { cookie: 'yarvo-who=Maren%20Tideway' });
    expect(response.status).toBe(201);
    const { id, name } = await taken(response);
    expect(name).toBe('Eel seller');
    const kept = new Uint8Array(await (await getFile(request, context(id))).arrayBuffer());
    expect(createHash('sha256').update(kept).digest('hex')).toBe(createHash('sha256').update(bytes).digest('hex'));
    const { characters } = (await (await listCharacters()).json()) as { characters: RosterRow[] };
    expect(characters).toMatchObject([
      { name: 'Eel seller', bones: 78, doubts: 0, blockers: 1, isHumanoid: true, updatedBy: 'Maren Tideway' },
    ]);
    const { portrait } = characters[0];
    const drawing = await getPortrait(request, { params: Promise.resolve({ hash: portrait }) });
    expect(await drawing.text()).toMatch(/^<svg id="figure" .*stroke="var\(--tint-left\)"/);
    const view = (await (await getCharacter(request, context(id))).json()) as CharacterView;
    expect(view.fit.revision).toBe(0);
    expect(Object.keys(view.fit.state.assignments)).toHaveLength(53);
  });

  it('splits a file larger than one chunk and puts it together again', async () => {
    const figure = await writeFigure(eelSeller());
    // Trailing bytes after the declared length are legal to ignore and must still be kept.
    const bytes = new Uint8Array(3_200_000);
    bytes.set(figure);
    const { id } = await taken(await upload(bytes, 'big.glb'));
    // The file in four, its geometry and its motion in one each.
    expect((await countRows()).chunks).toBe(6);
    const kept = new Uint8Array(await (await getFile(request, context(id))).arrayBuffer());
    expect(Buffer.compare(Buffer.from(kept), Buffer.from(bytes))).toBe(0);
  });

  it('keeps equal content once and gives the second character another name', async () => {
    const bytes = await writeFigure(eelSeller());
    await upload(bytes, 'eel-seller.glb');
    const second = await taken(await upload(bytes, 'eel-seller.glb'));
    expect(second.name).toBe('Eel seller 2');
    expect(await countRows()).toMatchObject({ characters: 2, blobs: 3 });
  });

  it.each([
    ['an empty file', new Uint8Array(0), 'empty-file'],
    ['a picture', Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 0, 0, 0, 0]), 'not-a-model'],
    [
      'random bytes after the magic',
      Uint8Array.from([0x67, 0x6c, 0x54, 0x46, ...Array.from({ length: 60 }, (_, at) => (at * 37) % 256)]),
      'unsupported-version',
    ],
  ])('refuses %s in words and leaves nothing behind', async (_case, bytes, code) => {
    const response = await upload(bytes, 'odd.glb');
    expect(response.status).toBe(422);
    const { error } = (await response.json()) as { error: Problem };
    expect(error).toMatchObject({ code });
    expect(error.place).toContain('odd.glb');
    expect(await countRows()).toEqual(NOTHING);
  });

  it('refuses a truncated real file and leaves nothing behind', async () => {
    const bytes = await writeFigure(eelSeller());
    const response = await upload(bytes.subarray(0, bytes.length >> 1), 'cut.glb');
    expect(response.status).toBe(422);
    expect(((await response.json()) as { error: Problem }).error.code).toBe('truncated');
    expect(await countRows()).toEqual(NOTHING);
  });

  it('refuses an oversized upload before reading it', async () => {
    const response = await upload(new Uint8Array(8), 'huge.glb', { 'content-length': String(MAX_FILE_BYTES + 1) });
    expect(response.status).toBe(413);
    expect(await countRows()).toEqual(NOTHING);
  });

  it('never lets a path from the client become more than a name', async () => {
    const { id } = await taken(await upload(await writeFigure(eelSeller()), '../../etc/passwd.glb'));
    const view = (await (await getCharacter(request, context(id))).json()) as CharacterView;
    expect(view.fileName).toBe('passwd.glb');
  });

  it('answers 404 in words for unknown and malformed ids', async () => {
    for (const id of ['nonsense', '00000000-0000-4000-8000-000000000000']) {
      const response = await getCharacter(request, context(id));
      expect(response.status).toBe(404);
      expect(((await response.json()) as { error: Problem }).error.remedy).toMatch(/roster/);
    }
  });
});
