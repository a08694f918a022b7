import { describe, expect, it } from 'vitest';
import { GET as getChecks } from '@/app/api/checks/route';
import { GET as getPreview, POST as postRepairs } from '@/app/api/characters/[characterId]/fit/repairs/route';
import { POST as postWaiver } from '@/app/api/characters/[characterId]/fit/waivers/route';
import { POST as postUnwaive } from '@/app/api/characters/[characterId]/fit/waivers/back/route';
import { GET as getWaivers } from '@/app/api/waivers/route';
import { GET as getProfiles, POST as postProfile } from '@/app/api/profiles/route';
import { POST as postSkeleton } from '@/app/api/profiles/skeleton/route';
import { GET as getProfile } from '@/app/api/profiles/[profileId]/route';
import type { FitView } from '@/contract/character-view';
import type { RepairPreview } from '@/contract/repairs';
import type { CheckRow, ProfileEntry, WaiverRow } from '@/contract/studio';
import type { EngineProfile, ShippedSkeleton } from '@/core/profile/profile';
import { EBB, TIDEWATER } from '@/core/profile/shipped';
import { findCharacter } from '@/server/characters/character-repository';
import { changeFit, readFitView, undoFit } from '@/server/fits/change-fit';
import { models } from '@/server/database/models';
import { listWaivers } from '@/server/fits/list-waivers';
import { runUpkeep } from '@/server/upkeep/upkeep';
import { addFile } from '@/server/intake/add-files';
import { createNodeIO } from '@/formats/gltf/node-io';
import { lamplighter } from '../../demo/cast/lamplighter';
import { netMender } from '../../demo/cast/net-mender';
import { writeFigure } from '../../demo/figure/write-figure';
import { withFreshDatabase } from './fresh-database';
import { sendHandoff } from './over-http';

withFreshDatabase();

const context = (characterId: string) => ({ params: Promise.resolve({ characterId }) });
const sent = (content: unknown) =>
  new Request('http://yarvo.test/', {
    method: 'POST',
    headers: { 'content-type': 'application/json', cookie: 'yarvo-who=Maren%20Tideway' },
    body: JSON.stringify(content),
  });
const viewOf = async (id: string): Promise<FitView> => {
  const character = await findCharacter(id);
  if (!character) throw new Error('lost');
  return readFitView(character);
};
const answered = async (response: Response): Promise<FitView> => {
  const { fit, error } = (await response.json()) as { fit?: FitView; error?: { message: string } };
  if (!response.ok || !fit) throw new Error(error?.message);
  return fit;
};

/** Net mender with weights that are off, a vertex without any, and a camera. */
async function damaged(): Promise<string> {
  const document = await createNodeIO().readBinary(await writeFigure(netMender()));
  const [mesh] = document.getRoot().listMeshes();
  const [primitive] = mesh.listPrimitives();
  const weights = primitive.getAttribute('WEIGHTS_0');
  if (!weights) throw new Error('no weights');
  weights.setElement(0, [0, 0, 0, 0]);
  weights.setElement(1, [0.3, 0.2, 0, 0]);
  const camera = document.createCamera('lens').setType('perspective').setZNear(0.1).setZFar(10).setYFov(1);
  document.getRoot().listScenes()[0].addChild(document.createNode('lookout').setCamera(camera));
  const bytes = await createNodeIO().writeBinary(document);
  return (await addFile({ bytes, fileName: 'net-mender.glb', author: 'Maren' })).id;
}

const checks = ({ findings }: FitView): string[] => findings.map(({ check }) => check);

describe('repairs', () => {
  it('are shown before they are made, made as one step, and undone like any other', async () => {
    const id = await damaged();
    const before = await viewOf(id);
    expect(checks(before)).toEqual(expect.arrayContaining(['loose-vertices', 'weight-sum', 'reference-pose']));
    const url = 'http://yarvo.test/?repairs=bind-loose-vertices,normalise-weights';
    const preview = (await (await getPreview(new Request(url), context(id))).json()) as RepairPreview;
    expect(preview).toMatchObject({ refused: null, repairs: ['bind-loose-vertices', 'normalise-weights'] });
    expect(preview.gone.join(' ')).toMatch(/weight/);
    expect((await viewOf(id)).revision).toBe(0);

    const repaired = await answered(await postRepairs(sent({ baseRevision: 0, repairs: 'safe' }), context(id)));
    expect(repaired.revision).toBe(1);
    expect(repaired.findings.filter(({ severity }) => severity === 'blocker')).toEqual([]);
    expect(checks(repaired)).not.toEqual(expect.arrayContaining(['weight-sum']));
    expect(repaired.history[0]).toMatchObject({ author: 'Maren Tideway' });
    expect(repaired.history[0].description).toMatch(/^repaired: bind loose vertices/);
    const again = await postRepairs(sent({ baseRevision: 1, repairs: 'safe' }), context(id));
    expect(again.status).toBe(422);

    const undone = await undoFit(id, { baseRevision: 1, author: 'Maren Tideway' });
    expect(undone.ok && checks(undone.fit)).toEqual(checks(before));
  });

  it('that are no such thing are refused by name', async () => {
    const id = await damaged();
    expect((await postRepairs(sent({ baseRevision: 0, repairs: ['polish'] }), context(id))).status).toBe(400);
    expect((await postRepairs(sent({ baseRevision: 7, repairs: 'safe' }), context(id))).status).toBe(409);
  });
});

describe('waivers', () => {
  it('let a blocked character be handed off in somebody’s name, and the pack says so', async () => {
    const id = await damaged();
    await answered(
      await postRepairs(sent({ baseRevision: 0, repairs: ['bind-loose-vertices', 'normalise-weights'] }), context(id)),
    );
    const pose = (await viewOf(id)).findings.find(({ check }) => check === 'reference-pose');
    expect(pose?.severity).toBe('blocker');
    const waived = await answered(
      await postWaiver(
        sent({ baseRevision: 1, finding: pose?.key, reason: 'the engine poses her itself', until: '2999-01-01' }),
        context(id),
      ),
    );
    expect(checks(waived)).not.toContain('reference-pose');
    expect(waived.waived).toMatchObject([
      { waiver: { author: 'Maren Tideway', reason: 'the engine poses her itself' } },
    ]);
    const made = await sendHandoff(new Request('http://yarvo.test/', { method: 'POST' }), context(id));
    expect(made.status).toBe(201);

    const open = await answered(await postUnwaive(sent({ baseRevision: 2, finding: pose?.key }), context(id)));
    expect(checks(open)).toContain('reference-pose');
    const blocked = await sendHandoff(new Request('http://yarvo.test/', { method: 'POST' }), context(id));
    expect(blocked.status).toBe(409);
  });

  it('are listed for all characters; one that runs out opens its finding, and the roster counts it again', async () => {
    const id = await damaged();
    await answered(
      await postRepairs(sent({ baseRevision: 0, repairs: ['bind-loose-vertices', 'normalise-weights'] }), context(id)),
    );
    const blockers = async () => (await models().Fit.findOne({ where: { characterId: id } }))?.blockers;
    expect(await blockers()).toBe(1);
    const waiver = { baseRevision: 1, check: 'reference-pose', reason: 'posed in the engine', until: '2999-01-01' };
    await answered(await postWaiver(sent(waiver), context(id)));
    expect(await blockers()).toBe(0);
    const listed = async (day?: string) => (await listWaivers(day)).filter(({ characterId }) => characterId === id);
    expect(await listed()).toMatchObject([
      { character: 'Net mender', hasRunOut: false, waiver: { until: '2999-01-01' } },
    ]);
    expect(await listed('2999-01-02')).toMatchObject([{ hasRunOut: true }]);
    const { waivers } = (await (await getWaivers(new Request('http://yarvo.test/'))).json()) as {
      waivers: WaiverRow[];
    };
    expect(waivers.map(({ characterId }) => characterId)).toContain(id);

    await runUpkeep(new Date('2999-01-01T12:00:00Z'));
    expect(await blockers()).toBe(0);
    const { recounted } = await runUpkeep(new Date('2999-01-02T12:00:00Z'));
    expect(recounted).toBeGreaterThan(0);
    expect(await blockers()).toBe(1);
  });

  it('need a reason and one subject', async () => {
    const id = await damaged();
    expect((await postWaiver(sent({ baseRevision: 0, check: 'doubts', reason: '' }), context(id))).status).toBe(400);
    expect((await postWaiver(sent({ baseRevision: 0, reason: 'so it is' }), context(id))).status).toBe(400);
  });
});

describe('engine profiles', () => {
  it('are kept in versions that never change, the next one after the newest', async () => {
    const list = async () =>
      ((await (await getProfiles(new Request('http://yarvo.test/'))).json()) as { profiles: ProfileEntry[] }).profiles;
    expect((await list()).map(({ id }) => id)).toEqual(['ebb', 'tidewater']);
    const next = { ...TIDEWATER, version: TIDEWATER.version + 1, limits: { ...TIDEWATER.limits, influences: 8 } };
    expect((await postProfile(sent(next))).status).toBe(201);
    expect((await postProfile(sent(next))).status).toBe(409);
    const read = async (query: string) => {
      const response = await getProfile(new Request(`http://yarvo.test/${query}`), {
        params: Promise.resolve({ profileId: 'tidewater' }),
      });
      return ((await response.json()) as { profile: EngineProfile }).profile;
    };
    expect((await read('')).limits.influences).toBe(8);
    expect((await read(`?version=${TIDEWATER.version}`)).limits.influences).toBe(4);
    const refused = await postProfile(sent({ ...next, version: 9, rootBone: 'forbidden', facing: '+Y' }));
    expect(refused.status).toBe(400);
    expect(JSON.stringify(await refused.json())).toMatch(/facing.*helpers/s);
  });

  it('judge a character by the one that it is set to', async () => {
    const id = await damaged();
    const set = await changeFit(id, { kind: 'set-profile', profile: EBB.id }, { baseRevision: 0, author: 'Odo' });
    expect(set.ok && checks(set.fit)).toContain('bone-axes');
  });
});

describe('a skeleton that the studio ships', () => {
  const taken = async (name: string, body: BodyInit): Promise<Response> =>
    postSkeleton(new Request(`http://yarvo.test/?name=${name}`, { method: 'POST', body }));

  it('is read from a file, with its roles; what holds none is refused by name', async () => {
    const file = await writeFigure(lamplighter());
    const response = await taken('town.glb', file as BodyInit);
    const { skeleton } = (await response.json()) as { skeleton: ShippedSkeleton };
    expect(skeleton.label).toBe('town');
    expect(skeleton.bones.length).toBeGreaterThan(50);
    expect(skeleton.bones.find(({ role }) => role === 'leftHand')?.name).toMatch(/hand/i);
    const refused = await taken('notes.glb', 'no model at all');
    expect(refused.status).toBe(422);
    expect(JSON.stringify(await refused.json())).toMatch(/notes\.glb/);
  });

  it('takes a character over: repaired, handed off and read back on its names', async () => {
    const { skeleton } = (await (await taken('town.glb', (await writeFigure(lamplighter())) as BodyInit)).json()) as {
      skeleton: ShippedSkeleton;
    };
    const kept = await postProfile(sent({ ...TIDEWATER, id: 'town', label: 'Town', version: 1, skeleton }));
    expect(kept.status).toBe(201);
    const id = await damaged();
    const set = await changeFit(id, { kind: 'set-profile', profile: 'town' }, { baseRevision: 0, author: 'Odo' });
    expect(set.ok && checks(set.fit)).toContain('shipped-skeleton');
    const url = 'http://yarvo.test/?repairs=conform';
    const preview = (await (await getPreview(new Request(url), context(id))).json()) as RepairPreview;
    expect(preview.renamed.length).toBeGreaterThan(20);
    expect(preview.movement?.restMm).toBeGreaterThanOrEqual(0);
    const repaired = await answered(await postRepairs(sent({ baseRevision: 1, repairs: 'safe' }), context(id)));
    const left = repaired.findings.filter(({ check }) => check === 'shipped-skeleton');
    expect(left.map(({ severity }) => severity)).not.toContain('blocker');
    expect(left.map(({ severity }) => severity)).not.toContain('caution');
    const made = await sendHandoff(new Request('http://yarvo.test/', { method: 'POST' }), context(id));
    expect(made.status).toBe(201);
  });
});

it('the board of checks has a line for each character, as its findings are', async () => {
  const ids = [await damaged(), await damaged()];
  const response = await getChecks(new Request(`http://yarvo.test/?characters=${ids.join(',')}`));
  const rows = (await response.text())
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as CheckRow);
  expect(rows.map(({ id }) => id)).toEqual(ids);
  const [{ cells }] = rows;
  expect(cells.find(({ check }) => check === 'weight-sum')).toMatchObject({
    severity: 'caution',
    repairs: ['normalise-weights'],
  });
  expect((await getChecks(new Request('http://yarvo.test/?characters=nobody'))).status).toBe(400);
});
