import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { describe, expect, it } from 'vitest';
import { QUAY } from '@/core/definition/quay';
import { CAST, SAME_FIGURE, YARDSTICK } from './cast/cast';

const file = (...names: string[]) => path.join(import.meta.dirname, 'files', ...names);

const FILES = [
  ...Object.entries(CAST),
  ...Object.entries(YARDSTICK).map(([name, made]) => [`yardstick/${name}`, made] as const),
];

describe.each(FILES)('%s', (name, { make, truth, figure }) => {
  it('is made the same every time, and is the committed file', async () => {
    expect(Buffer.compare(Buffer.from(await make()), await readFile(file(name)))).toBe(0);
    if (truth) expect(truth).toEqual(JSON.parse(await readFile(file(name.replace(/\.\w+$/, '.truth.json')), 'utf8')));
  });

  it.runIf(figure)('has weights of four bones at most that add up to 1 on every vertex', () => {
    for (const part of figure?.().parts ?? []) {
      for (const weights of part.weights) {
        expect(weights.length).toBeLessThanOrEqual(4);
        expect(weights.reduce((sum, { weight }) => sum + weight, 0)).toBeCloseTo(1, 5);
      }
    }
  });

  it.runIf(truth)('names every required role once in its truth table', () => {
    for (const role of QUAY.roles.filter(({ required }) => required))
      expect(Object.values(truth ?? {}).filter((entry) => entry === role.id)).toHaveLength(1);
  });
});

it.each(Object.entries(SAME_FIGURE))('%s is the committed file', async (name, make) => {
  expect(Buffer.compare(Buffer.from(make()), await readFile(file('same-figure', name)))).toBe(0);
});
