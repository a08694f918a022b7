import { describe, expect, it } from 'vitest';
import { runFirstPass } from '@/pipeline/match';
import { QUAY } from '../definition/quay';
import { readGlb } from '@/pipeline/read-files';
import { marketMule } from '../../../demo/cast/animals';
import { eelSeller } from '../../../demo/cast/eel-seller';
import { writeFigure } from '../../../demo/figure/write-figure';
import { lanternBones, makeRig } from '../../../tests/helpers/rig-maker';
import { drawPortrait } from './portrait';

const numbers = (svg: string, name: string): number[] =>
  [...svg.matchAll(new RegExp(`${name}="(-?[\\d.]+)"`, 'g'))].map((match) => Number(match[1]));

describe('the portrait', () => {
  it("draws the mapped limbs inside the frame, left on the viewer's right, and leaves cloth out", async () => {
    const { rig } = await readGlb(await writeFigure(eelSeller()), 'eel');
    const first = runFirstPass(rig, QUAY);
    const svg = drawPortrait(rig, first.normalisation, first.match, QUAY);
    for (const value of [...numbers(svg, 'x1'), ...numbers(svg, 'x2')]) expect(value >= 0 && value <= 48).toBe(true);
    for (const value of [...numbers(svg, 'y1'), ...numbers(svg, 'y2')]) expect(value >= 0 && value <= 64).toBe(true);
    const left = [...svg.matchAll(/class="left" x1="([\d.]+)"/g)].map((match) => Number(match[1]));
    const right = [...svg.matchAll(/class="right" x1="([\d.]+)"/g)].map((match) => Number(match[1]));
    expect(Math.min(...left.filter((x) => x > 24.5))).toBeGreaterThan(Math.max(...right.filter((x) => x < 23.5)));
    expect(svg.match(/<line/g)?.length).toBeLessThan(rig.bones.length);
    expect(svg).not.toMatch(/class="spare"|NaN/);
  });

  it('draws an animal whole and from its longer side, no piece of it as an arm', async () => {
    const { rig } = await readGlb(await writeFigure(marketMule()), 'mule');
    const first = runFirstPass(rig, QUAY);
    const svg = drawPortrait(rig, first.normalisation, first.match, QUAY);
    expect(svg.match(/<line class="spare"/g)).toHaveLength(rig.bones.length - 1);
    expect(svg).not.toMatch(/class="(left|right|centre)"/);
    const xs = [...numbers(svg, 'x1'), ...numbers(svg, 'x2')];
    expect(Math.max(...xs) - Math.min(...xs)).toBeGreaterThan(36);
  });

  it('draws something without NaN for what is no figure', () => {
    const rig = makeRig(lanternBones());
    const first = runFirstPass(rig, QUAY);
    const svg = drawPortrait(rig, first.normalisation, first.match, QUAY);
    expect(svg).toMatch(/<line class="spare"/);
    expect(svg).not.toMatch(/NaN|Infinity/);
    const none = makeRig([]);
    const nothing = runFirstPass(none, QUAY);
    expect(drawPortrait(none, nothing.normalisation, nothing.match, QUAY)).not.toMatch(/NaN|Infinity/);
  });
});
