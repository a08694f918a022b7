import { describe, expect, it } from 'vitest';
import { EngineProfileSchema } from './profile';
import { SHIPPED_PROFILES, TIDEWATER } from './shipped';

const faults = (change: object): string[] =>
  EngineProfileSchema.safeParse({ ...structuredClone(TIDEWATER), ...change }).error?.issues.map(
    ({ path, message }) => `${path.join('.')}: ${message}`,
  ) ?? [];

describe('an engine profile', () => {
  it('that ships holds together, and is read from its own JSON again', () => {
    for (const profile of SHIPPED_PROFILES)
      expect(EngineProfileSchema.parse(JSON.parse(JSON.stringify(profile)))).toEqual(profile);
  });

  it('that contradicts itself names every fault at once', () => {
    const said = faults({
      facing: '-Y',
      rootBone: 'forbidden',
      rootName: 'ground',
      axes: { along: '+X', hinge: '-X', isMirrored: true },
      heightMetres: { least: 3, most: 1 },
      clips: { framesPerSecond: 30, seconds: null, travel: 'root' },
      textures: { isPowerOfTwo: true, types: null },
      limits: { ...TIDEWATER.limits, textureSize: 1000 },
    });
    for (const place of ['facing', 'rootName', 'helpers.0.parent', 'axes.hinge', 'heightMetres', 'clips.travel'])
      expect(said.some((fault) => fault.startsWith(place))).toBe(true);
    expect(said.some((fault) => fault.startsWith('limits.textureSize'))).toBe(true);
  });

  it('refuses nonsense and unknown fields by name', () => {
    expect(faults({ limits: { ...TIDEWATER.limits, bonesPerSkeleton: 0 } }).join()).toMatch(/limits\.bonesPerSkeleton/);
    expect(faults({ colour: 'teal' }).join()).toMatch(/colour/);
    expect(faults({ names: { ...TIDEWATER.names, allowed: '([' } }).join()).toMatch(/names\.allowed: is no pattern/);
  });

  it('wants no helper under a name that it refuses, and none twice', () => {
    const helper = { parent: 'root', place: { kind: 'at', role: 'head' } };
    const said = faults({
      helpers: [
        { ...helper, name: 'a b' },
        { ...helper, name: 'eye' },
        { ...helper, name: 'Eye' },
      ],
    });
    expect(said.some((fault) => /helpers\.0\.name.*refuses/.test(fault))).toBe(true);
    expect(said.some((fault) => /helpers\.2\.name.*twice/.test(fault))).toBe(true);
  });

  it('of before there were these fields is read as one without such limits', () => {
    const old = { id: 'tidewater', label: 'Tidewater', version: 1, up: '+Y', facing: '+Z', metresPerUnit: 1 };
    const names = { allowed: '.*', allowedInWords: 'anything', maxLength: 60 };
    const profile = EngineProfileSchema.parse({
      ...old,
      rootBone: 'required',
      rootOffsetMetres: 0.01,
      names,
      boneScaleTolerance: 0.001,
    });
    expect(profile.limits.bonesPerSkeleton).toBeNull();
    expect(profile.helpers).toEqual([]);
  });
});
