import { strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { refusalOf } from '../../../tests/helpers/refusal';
import { Companions } from '../files/companions';
import { onlyModel, unpackAll } from './open-source';
import { formatOf } from './source-format';

const zip = (files: Record<string, Uint8Array>) => [{ path: 'pack.zip', bytes: zipSync(files) }];
const BVH = strToU8('HIERARCHY\nROOT a\n{\nOFFSET 0 0 0\n}\n');

describe('what a file is', () => {
  it('is told by its content before its name', () => {
    expect(formatOf(BVH, 'walk.fbx')).toBe('bvh');
    expect(formatOf(strToU8('<?xml version="1.0"?><COLLADA version="1.4.1"/>'), 'a.dae')).toBe('collada');
    expect(formatOf(strToU8('{"asset":{}}'), 'a.gltf')).toBe('gltf');
    expect(formatOf(strToU8('; FBX 7.4.0 project file\n'), 'a.fbx')).toBe('fbx');
  });

  it('is refused with what was expected', () => {
    expect(refusalOf(() => formatOf(strToU8('lorem'), 'a.dae'))).toMatchObject({
      code: 'not-a-model',
      message: expect.stringContaining('<COLLADA>') as string,
    });
    expect(refusalOf(() => formatOf(strToU8('solid'), 'a.stl')).message).toMatch(/none of the formats/);
    expect(refusalOf(() => formatOf(strToU8('Kaydara FBX Binary  \n  '), 'a.fbx')).code).toBe('altered-binary');
  });
});

describe('a zip', () => {
  it('gives its files, without what systems add', () => {
    const files = unpackAll(
      zip({ 'crab/crab.bvh': BVH, '__MACOSX/crab/._crab.bvh': BVH, 'crab/.DS_Store': BVH, 'crab/skin.png': BVH }),
    );
    expect(files.map((file) => file.path)).toEqual(['crab/crab.bvh', 'crab/skin.png']);
    expect(onlyModel(files, 'pack.zip').path).toBe('crab/crab.bvh');
  });

  it.each([
    ['a way up', { '../../etc/crab.bvh': BVH }, 'bad-path'],
    ['a drive', { 'C:\\crab.bvh': BVH }, 'bad-path'],
    ['an absolute path', { '/etc/crab.bvh': BVH }, 'bad-path'],
    ['nothing', {}, 'empty-file'],
    ['another zip', { 'inner.zip': zipSync({ 'a.bvh': BVH }) }, 'nested-zip'],
    ['a bomb', { 'zeros.bvh': new Uint8Array(40 * 1024 * 1024) }, 'zip-bomb'],
    [
      'too many files',
      Object.fromEntries(Array.from({ length: 2001 }, (_, at) => [`f${at}.bvh`, new Uint8Array(1)])),
      'too-many',
    ],
  ])('with %s is refused', (_case, files, code) => {
    expect(refusalOf(() => unpackAll(zip(files))).code).toBe(code);
  });

  it('that was cut off is refused', () => {
    const [whole] = zip({ 'crab.bvh': BVH });
    expect(refusalOf(() => unpackAll([{ ...whole, bytes: whole.bytes.slice(0, whole.bytes.length - 30) }])).code).toBe(
      'bad-zip',
    );
  });

  it('with two models or none says so', () => {
    expect(refusalOf(() => onlyModel(unpackAll(zip({ 'a.bvh': BVH, 'b.bvh': BVH })), 'pack.zip')).code).toBe(
      'several-models',
    );
    expect(refusalOf(() => onlyModel(unpackAll(zip({ 'a.png': BVH, 'b.png': BVH })), 'pack.zip')).code).toBe(
      'no-model',
    );
  });
});

describe('companions', () => {
  const png = { path: 'market/Textures/Coat.PNG', bytes: new Uint8Array(1) };
  const near = new Companions([png, { path: 'market/coat.bin', bytes: new Uint8Array(2) }]);
  it.each([['coat.png'], ['C:\\art\\work\\Coat.png'], ['../../somewhere/COAT.PNG'], ['Coat%2Epng']])(
    'finds %s by its last part, whatever its case',
    (reference) => {
      expect(near.findByName(reference)).toBe(png);
    },
  );

  it('finds a relative path first, and nothing outside the set', () => {
    expect(near.find('coat.bin', 'market/coat.gltf')?.bytes).toHaveLength(2);
    expect(near.find('Textures/Coat.PNG', 'market/coat.gltf')).toBe(png);
    expect(near.find('../../../etc/passwd', 'market/coat.gltf')).toBeNull();
  });
});
