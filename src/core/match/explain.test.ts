import { describe, expect, it } from 'vitest';
import { QUAY } from '../definition/quay';
import { readGlb } from '@/pipeline/read-files';
import { CAST } from '../../../demo/cast/cast';
import { confidenceBy, explainInWords, explainMatch } from './explain';
import { matchBones } from './match-bones';

const cast = async (name: string) => (await readGlb(await CAST[name].make(), name)).rig;

describe('explaining a match', () => {
  it('shows that all evidence agrees on a tidy rig', async () => {
    const rig = await cast('lamplighter.glb');
    const explanation = explainMatch({ rig, definition: QUAY, options: {} });
    const hand = matchBones(rig, QUAY).assignments.leftHand.boneIndex;
    expect(confidenceBy(explanation, 'names', 'leftHand', hand)).toBeGreaterThan(0.9);
    expect(explainInWords(explanation, 'leftHand', hand, (bone) => rig.bones[bone].name)).toMatch(/the name/i);
  });

  it('shows that names say nothing on a rig without any', async () => {
    const rig = await cast('net-mender.glb');
    const explanation = explainMatch({ rig, definition: QUAY, options: {} });
    const match = matchBones(rig, QUAY);
    const sure = (kind: 'names' | 'tree' | 'place') =>
      Object.values(match.assignments).reduce(
        (sum, { role, boneIndex }) => sum + confidenceBy(explanation, kind, role, boneIndex),
        0,
      );
    expect(explanation.names).toEqual({});
    expect(sure('names')).toBe(0);
    expect(sure('place')).toBeGreaterThan(10);
  });

  it('does not take a guess for an answer', () => {
    const guess = {
      head: { role: 'head', boneIndex: 3, confidence: 0.3, state: 'doubtful' as const, evidence: [], runnersUp: [] },
    };
    expect(explainInWords({ names: guess, tree: guess, place: guess }, 'head', 3, String)).toContain(
      'No kind of evidence leads here',
    );
  });

  it('names the bone that one kind of evidence alone would take', () => {
    const answer = (boneIndex: number) => ({
      head: {
        role: 'head',
        boneIndex,
        confidence: 0.8,
        state: 'proposed' as const,
        evidence: [],
        runnersUp: [{ boneIndex: 7, confidence: 0.2, evidence: [] }],
      },
    });
    const explanation = { names: answer(3), tree: answer(4), place: {} };
    expect(explainInWords(explanation, 'head', 3, (bone) => `b${bone}`)).toBe(
      'The name leads here by itself; the tree alone would take b4; the place alone is sure of nothing.',
    );
    expect(explainInWords(explanation, 'head', 9, (bone) => `b${bone}`)).toContain(
      'No kind of evidence leads here by itself',
    );
    expect(confidenceBy(explanation, 'tree', 'head', 7)).toBe(0.2);
    expect(confidenceBy(explanation, 'place', 'head', 3)).toBe(0);
  });
});
