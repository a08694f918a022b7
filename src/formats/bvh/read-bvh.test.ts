import { describe, expect, it } from 'vitest';
import { refusalOf } from '../../../tests/helpers/refusal';
import { rotate, type Quat } from '@/core/math/quat';
import { readBvh } from './read-bvh';

const codeOf = (text: string): string => {
  const { code, place } = refusalOf(() => readBvh(text, 'm.bvh'));
  return `${code} ${place}`;
};

/** Two roots, channels in an unusual order, a joint without channels, names with blanks, an end site. */
const ODD = `HIERARCHY
ROOT left boat
{
  OFFSET 1 0 0
  CHANNELS 4 Yposition Xrotation Zrotation Yrotation
  JOINT stiff
  {
    OFFSET 0 2 0
    End Site
    { OFFSET 0 1 0 }
  }
}
ROOT right boat {
  OFFSET -1 0 0
  CHANNELS 1 Zrotation
}
MOTION
Frames: 2
Frame Time: 0.5
5 0 0 0 0
7 90 90 0 45
`;

describe('readBvh', () => {
  const draft = readBvh(ODD, 'm.bvh');
  it('reads several roots, blanks in names, end sites as tips, joints without channels', () => {
    expect(draft.nodes.map((node) => [node.name, node.parent, ...node.rest.translation])).toEqual([
      ['left boat', -1, 1, 0, 0],
      ['stiff', 0, 0, 2, 0],
      ['stiff end', 1, 0, 1, 0],
      ['right boat', -1, -1, 0, 0],
    ]);
    expect(draft.clips[0].tracks.some((track) => track.node === 1)).toBe(false);
    expect(draft.facts.clipRates).toEqual([{ framesPerSecond: 2, startSeconds: 0 }]);
    expect(draft.facts).toMatchObject({ unitMetres: null, up: null });
  });

  it('turns in the order of the channels, and keeps the offset on axes without a position', () => {
    const track = (node: number, path: string) =>
      draft.clips[0].tracks.find((candidate) => candidate.node === node && candidate.path === path);
    expect([...(track(0, 'translation')?.values ?? [])]).toEqual([1, 5, 0, 1, 7, 0]);
    // X first, then Z in the frame that X left: (1,0,0) goes to y by Z, and on to z by X.
    const q = [...(track(0, 'rotation')?.values.subarray(4, 8) ?? [])] as unknown as Quat;
    rotate(q, [1, 0, 0]).forEach((value, axis) => expect(value).toBeCloseTo([0, 0, 1][axis], 6));
  });

  it.each([
    ['a file that ends in its tree', ODD.slice(0, ODD.indexOf('OFFSET 0 1 0')), /^truncated m\.bvh, line/],
    ['an unknown channel', ODD.replace('Yposition', 'Wposition'), /^unknown-channel m\.bvh, line 5/],
    ['a word for a number', ODD.replace('OFFSET 0 2 0', 'OFFSET 0 two 0'), /^bad-number m\.bvh, line 8/],
    ['missing frames', ODD.replace('7 90 90 0 45\n', ''), /^truncated/],
    ['a negative frame time', ODD.replace('0.5', '-1'), /^bad-number m\.bvh, line 19/],
    ['two frames at one moment', ODD.replace('0.5', '0'), /^bad-number m\.bvh, line 19/],
    ['a frame time that no clock shows', ODD.replace('0.5', '1e-300'), /^bad-number m\.bvh, line 19/],
    ['a frame of years', ODD.replace('0.5', '1e300'), /^bad-number m\.bvh, line 19/],
    ['a claim of many frames', ODD.replace('Frames: 2', 'Frames: 999999999'), /^bad-number m\.bvh, line 18/],
    ['no root', 'HIERARCHY\nMOTION', /^no-joints/],
  ])('refuses %s with its line', (_case, text, expected) => {
    expect(codeOf(text)).toMatch(expected);
  });
});
