import { beforeAll, describe, expect, it } from 'vitest';
import { QUAY } from '@/core/definition/quay';
import { initialFit } from '@/core/fit/fit';
import { planHandoff, type HandoffPlan } from '@/core/plan/handoff-plan';
import { EngineProfileSchema } from '@/core/profile/profile';
import { TIDEWATER } from '@/core/profile/shipped';
import { runChecks } from '@/core/checks/run-checks';
import type { MorphChoices } from '@/core/morphs/map-morphs';
import { morphTargetNames } from '@/document/morph-names';
import { writeHandoff } from '@/document/write-handoff';
import { createNodeIO } from '@/formats/gltf/node-io';
import { addedBy } from '@/pipeline/added-bones';
import { runFirstPass } from '@/pipeline/match';
import { readGlb } from '@/pipeline/read-files';
import { readCast } from '../helpers/cast-files';
import { loadWithThree } from '../helpers/three-oracle';

const WANTED = ['mouthOpen', 'smile', 'blinkLeft', 'blinkRight', 'cheekPuff'];
const profile = EngineProfileSchema.parse({ ...TIDEWATER, morphs: WANTED });
let glb: Uint8Array;
beforeAll(async () => {
  ({ glb } = await readCast('customs-clerk.vrm'));
});

async function planned(morphs: MorphChoices): Promise<HandoffPlan & { readonly write: () => Promise<Uint8Array> }> {
  const { rig, document } = await readGlb(glb, 'clerk');
  const first = runFirstPass(rig, QUAY);
  const fit = { ...initialFit(first.match, QUAY), morphs };
  const plan = planHandoff({ rig, ...first, fit, definition: QUAY, profile });
  const write = async (): Promise<Uint8Array> => {
    if ('problem' in plan.skeleton) throw new Error('cannot be written');
    writeHandoff(document, rig, plan.skeleton.plan, plan.names, addedBy(plan));
    return createNodeIO().writeBinary(document);
  };
  return { ...plan, write };
}

describe('morph targets of a character with German names', () => {
  it('stand for those that the engine drives, with the words that say so; one that nothing is like is missing', async () => {
    const plan = await planned({});
    expect(plan.morphs.mapped.map(({ wanted, own }) => [wanted, own])).toEqual([
      ['mouthOpen', 'Mund_auf'],
      ['smile', 'Laecheln'],
      ['blinkLeft', 'Auge_zu_L'],
      ['blinkRight', 'Auge_zu_R'],
    ]);
    const [missing] = runChecks(plan).filter(({ key }) => key.startsWith('morphs/missing'));
    expect(missing.parts).toEqual(['cheekPuff']);
  });

  it('are set by hand, or left vacant, and the name says so no more', async () => {
    const plan = await planned({ cheekPuff: 'Braue_hoch', smile: null, mouthOpen: 'gone' });
    const byWanted = new Map(plan.morphs.mapped.map((match) => [match.wanted, match]));
    expect(byWanted.get('cheekPuff')).toMatchObject({ own: 'Braue_hoch', origin: 'person' });
    expect(byWanted.has('smile')).toBe(false);
    // A choice that the file does not have any more is looked for by name.
    expect(byWanted.get('mouthOpen')).toMatchObject({ own: 'Mund_auf', origin: 'match' });
  });

  it('are written under the names of the engine, and bend the mesh there by another reader', async () => {
    const written = await (await planned({})).write();
    const { document } = await readGlb(written, 'written');
    const [mesh] = document.getRoot().listMeshes();
    expect(morphTargetNames(mesh)).toEqual([
      'mouthOpen',
      'smile',
      'blinkLeft',
      'blinkRight',
      'Braue_hoch',
      'Reserve_06',
    ]);
    const loaded = await loadWithThree(written);
    const names = new Set<string>();
    loaded.scene.traverse((object) => {
      const { morphTargetDictionary } = object as { morphTargetDictionary?: Record<string, number> };
      for (const name of Object.keys(morphTargetDictionary ?? {})) names.add(name);
    });
    expect([...names]).toEqual(expect.arrayContaining(['mouthOpen', 'blinkRight']));
  });
});
