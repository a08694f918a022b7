import { describe, expect, it } from 'vitest';
import { KEYS } from './keys';
import { rankFinds, type Find } from './find';

const find = (kind: string, text: string, detail = ''): Find => ({ kind, text, detail, run: () => undefined });
const FINDS = [
  find('role', 'Left upper arm', 'lt_arm_l'),
  find('role', 'Left forearm'),
  find('bone', 'forearm_twist'),
  find('bone', 'arm'),
  find('action', 'exchange left and right'),
];
const texts = (typed: string) => rankFinds(FINDS, typed).map(({ text }) => text);

describe('finding by name', () => {
  it('puts the whole name first, then starts of names, of words, then the rest', () => {
    expect(texts('arm')).toEqual(['arm', 'Left upper arm', 'Left forearm', 'forearm_twist']);
    expect(texts('fore')).toEqual(['forearm_twist', 'Left forearm']);
  });

  it('wants every word, in any order, kind and detail counted', () => {
    expect(texts('arm left')).toEqual(['Left upper arm', 'Left forearm']);
    expect(texts('role lt_')).toEqual(['Left upper arm']);
    expect(texts('wing')).toEqual([]);
  });

  it('keeps everything in its order while nothing is typed, and never more than a page', () => {
    expect(texts('')).toEqual(FINDS.map(({ text }) => text));
    expect(
      rankFinds(
        Array.from({ length: 2000 }, (_, index) => find('bone', `b${index}`)),
        'b',
      ),
    ).toHaveLength(60);
  });
});

it('no screen lists a key twice in one group', () => {
  for (const groups of Object.values(KEYS))
    for (const { entries } of groups) expect(new Set(entries.map(({ keys }) => keys.join())).size).toBe(entries.length);
});
