import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { describe, expect, it } from 'vitest';
import { QUAY } from '@/core/definition/quay';
import { CAST } from './cast/cast';
import { truthOf, writeFigure } from './figure/write-figure';

const file = (name: string) => path.join(import.meta.dirname, 'files', name);

describe.each(Object.entries(CAST))('%s', (name, make) => {
  it('is made the same every time, and is the committed file', async () => {
    const bytes = await writeFigure(make());
    expect(Buffer.compare(Buffer.from(bytes), await readFile(file(`${name}.glb`)))).toBe(0);
    expect(truthOf(make())).toEqual(JSON.parse(await readFile(file(`${name}.truth.json`), 'utf8')));
  });

  it('has weights of four bones at most that add up to 1 on every vertex', () => {
    for (const part of make().parts) {
      for (const weights of part.weights) {
        expect(weights.length).toBeLessThanOrEqual(4);
        expect(weights.reduce((sum, { weight }) => sum + weight, 0)).toBeCloseTo(1, 5);
      }
    }
  });

  it('names every required role once in its truth table', () => {
    const truth = Object.values(truthOf(make()));
    for (const role of QUAY.roles.filter(({ required }) => required)) expect(truth.filter((entry) => entry === role.id)).toHaveLength(1);
  });
});
