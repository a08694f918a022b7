import { describe, expect, it } from 'vitest';
import { groupFiles, pathOf } from './group-files';

const file = (path: string): File => Object.assign(new File([], path.split('/').pop() ?? path), { path });
const grouped = (...paths: string[]) =>
  groupFiles(paths.map(file)).map(({ name, files }) => [name, ...files.map((entry) => entry.path)]);

describe('files of one drop', () => {
  it('each model goes with the textures of its own folder', () => {
    expect(
      grouped('market/crab/crab.fbx', 'market/crab/tex/shell.png', 'market/gull/gull.gltf', 'market/gull/gull.bin'),
    ).toEqual([
      ['market/crab/crab.fbx', 'market/crab/crab.fbx', 'market/crab/tex/shell.png'],
      ['market/gull/gull.gltf', 'market/gull/gull.gltf', 'market/gull/gull.bin'],
    ]);
  });

  it('textures from elsewhere go with every model that has none of its own', () => {
    expect(grouped('source/crab.fbx', 'textures/shell.png')).toEqual([
      ['source/crab.fbx', 'source/crab.fbx', 'textures/shell.png'],
    ]);
  });

  it('what is neither goes alone, so that its refusal names it', () => {
    expect(grouped('crab.glb', 'notes.txt')).toEqual([
      ['crab.glb', 'crab.glb'],
      ['notes.txt', 'notes.txt'],
    ]);
    expect(grouped('shell.png')).toEqual([['shell.png', 'shell.png']]);
    expect(grouped('pack.zip', 'crab.vrm').map(([name]) => name)).toEqual(['crab.vrm', 'pack.zip']);
  });

  it('an upload takes so many files, the model first; the others are known before anything is sent', () => {
    const many = Array.from({ length: 2_005 }, (_, at) => file(`crab/tex-${at}.png`));
    const [group, ...more] = groupFiles([...many, file('crab/crab.fbx')]);
    expect(more).toEqual([]);
    expect(group.files).toHaveLength(2_000);
    expect(group.files[0].path).toBe('crab/crab.fbx');
    expect(group.excess.map(({ path }) => path)).toEqual(
      Array.from({ length: 6 }, (_, at) => `crab/tex-${1_999 + at}.png`),
    );
  });

  it('paths lose what browsers put before them', () => {
    expect(pathOf(file('/market/crab.glb'))).toBe('market/crab.glb');
    expect(pathOf(file('./crab.glb'))).toBe('crab.glb');
  });
});
