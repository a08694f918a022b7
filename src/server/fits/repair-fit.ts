import type { RepairPreview } from '@/contract/repairs';
import type { FitState } from '@/core/fit/fit';
import { rebaseFit } from '@/core/fit/rebase-fit';
import { isSameReading } from '@/core/intake/decisions';
import { postureActions } from '@/core/repairs/choose-repairs';
import { REPAIR_KINDS, REPAIR_TEXT, type RepairKind } from '@/core/repairs/repair-kinds';
import { today } from '@/pipeline/judge';
import { findCharacter } from '../characters/character-repository';
import { prepareReading, type MatchedReading, type PreparedReading } from '../matches/matched-reading';
import { STUDIO } from '../library/studio';
import type { Yardsticks } from '../library/count-names';
import { askJudge } from '../work/judge-thread';
import { runMovement } from '../work/pool';
import { drillResultsOf } from './drill-results';
import { assessReading, yardsticksOf } from './assess-reading';
import { changeBy, refusalOf, step, type ChangeRequest, type ChangeResult, type StepSubject } from './change-fit';
import { findCurrentFit } from './fit-repository';

type Wanted = readonly RepairKind[] | 'safe';
type Subject = Pick<StepSubject, 'character' | 'state' | 'reading' | 'yardsticks'>;

interface Made {
  readonly kinds: readonly RepairKind[];
  readonly state: FitState;
  readonly reading: PreparedReading;
}

/** What one repair uncovers the next may mend; more rounds than this mean that nothing helps. */
const MOST_ROUNDS = 4;

/** Makes repairs of a fit: other decisions on the files, other options of the handoff. One step of the history. */
export const repairFit = (characterId: string, wanted: Wanted, request: ChangeRequest): Promise<ChangeResult> =>
  step(characterId, request, async (subject) => {
    const made = await makeRepairs(subject, wanted);
    if ('message' in made) return { ok: false, message: made.message };
    if (made.kinds.length === 0) return { ok: false, message: 'There is nothing to repair that way.' };
    const { kinds, state, reading } = made;
    return {
      ok: true,
      kind: 'act',
      action: { kind: 'repair', kinds },
      description: `repaired: ${kinds.map((kind) => REPAIR_TEXT[kind].toLowerCase()).join(', ')}`,
      state,
      reading,
    };
  });

/** What repairs would change; nothing is kept. Null for an unknown character. @throws {YarvoError} */
export async function previewRepairs(
  characterId: string,
  wanted: Wanted,
  { definition = STUDIO.definition, hasMovement = false }: { definition?: string; hasMovement?: boolean } = {},
): Promise<RepairPreview | null> {
  const character = await findCharacter(characterId);
  const fit = character && (await findCurrentFit(characterId, definition));
  if (!character || !fit) return null;
  const { state } = fit;
  const [now, yardsticks] = await Promise.all([prepareReading(character, state), yardsticksOf(state)]);
  const reading = now.record;
  const made = await makeRepairs({ character, state, reading, yardsticks }, wanted, now);
  if ('message' in made)
    return { refused: made.message, repairs: [], before: null, after: null, gone: [], renamed: [], movement: null };
  const before = await summaryOf(reading, state, yardsticks);
  const after = await summaryOf(made.reading.record, made.state, yardsticks);
  const left = new Set(after.keys);
  const gone = before.findings.filter(({ key }) => !left.has(key)).map(({ sentence }) => sentence);
  return {
    refused: null,
    repairs: [...made.kinds],
    before: before.counts,
    after: after.counts,
    gone,
    renamed: renamedBy(before.names, after.names),
    movement:
      hasMovement && made.kinds.length > 0 ? await movementOf(now, state, made, yardsticks, character.name) : null,
  };
}

/** Bones of the file that are written under another name than before. */
function renamedBy(before: ReadonlyMap<string, string>, after: ReadonlyMap<string, string>): RepairPreview['renamed'] {
  return [...after].flatMap(([own, to]) => {
    const from = before.get(own);
    return from !== undefined && from !== to ? [{ from, to }] : [];
  });
}

async function movementOf(
  from: PreparedReading,
  state: FitState,
  made: Made,
  yardsticks: Yardsticks,
  place: string,
): Promise<RepairPreview['movement']> {
  const [before, after] = await Promise.all([from.geometry?.(), made.reading.geometry?.()]);
  if (!before || !after) return null;
  const side = ({ record }: PreparedReading, fit: FitState, geometry: Uint8Array) => {
    const { rig, match, normalisation } = record;
    return { rig, match, normalisation, fit, geometry };
  };
  const found = await runMovement(
    { before: side(from, state, before), after: side(made.reading, made.state, after), ...yardsticks },
    place,
  );
  if (!found) return null;
  const { rest, inMotion } = found;
  return {
    restMm: rest.metres * 1000,
    motionMm: inMotion && inMotion.metres * 1000,
    part: (inMotion && inMotion.metres > rest.metres ? inMotion.part : rest.part) || '',
    left: [...rest.left],
  };
}

async function makeRepairs(
  { character, state: start, reading: from, yardsticks }: Subject,
  wanted: Wanted,
  now: PreparedReading | null = null,
): Promise<Made | { readonly message: string }> {
  const kinds = new Set<RepairKind>();
  let state = start;
  let reading: PreparedReading = now ?? { record: from, keep: null };
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const { record } = reading;
    const chosen = await askJudge({ name: 'repair', fit: state, yardsticks, wanted }, record, record.bytes);
    let next: FitState = { ...state, handoff: chosen.handoff };
    if (!isSameReading(chosen.intake, state.intake)) {
      const prepared = await prepareReading(character, { ...next, intake: chosen.intake }).catch(refusalOf);
      if ('message' in prepared) return prepared;
      next = rebaseFit(next, record, prepared.record, yardsticks.definition, chosen.intake);
      reading = prepared;
    }
    const { record: read } = reading;
    const { definition } = yardsticks;
    for (const action of postureActions(chosen, next, definition)) {
      const aligned = await askJudge({ name: 'apply', fit: next, action, definition }, read, read.bytes);
      if (aligned.ok) next = aligned.state;
    }
    if (JSON.stringify(next) === JSON.stringify(state)) break;
    for (const kind of chosen.meant) kinds.add(kind);
    state = next;
    if (wanted !== 'safe') break;
  }
  return { kinds: REPAIR_KINDS.filter((kind) => kinds.has(kind)), state, reading };
}

async function summaryOf(reading: MatchedReading, state: FitState, yardsticks: Yardsticks) {
  const { findings } = await assessReading(reading, state, yardsticks);
  const { rig, normalisation } = reading;
  const names = await askJudge({ name: 'names', fit: state, yardsticks }, reading, reading.bytes);
  const of = (severity: string): number => findings.filter((finding) => finding.severity === severity).length;
  return {
    findings,
    keys: findings.map(({ key }) => key),
    names: new Map(rig.bones.map(({ name, index }) => [name, names[index]])),
    counts: {
      blockers: of('blocker'),
      cautions: of('caution'),
      notes: of('note'),
      bones: rig.bones.length,
      vertices: rig.mesh.vertexCount,
      influences: rig.mesh.maxInfluences,
      clips: rig.clips.length,
      heightMetres: normalisation.heightMetres,
    },
  };
}

export interface WaiveRequest {
  /** Key of one finding, or a whole check. */
  readonly finding?: string;
  readonly check?: string;
  readonly reason: string;
  readonly until?: string;
}

/** Accepts a finding, or all of a check, in the author's name. */
export async function waive(
  characterId: string,
  { finding, check, reason, until }: WaiveRequest,
  request: ChangeRequest,
): Promise<ChangeResult> {
  const fit = await findCurrentFit(characterId, request.definitionId);
  const drill = fit ? await drillResultsOf(fit) : [];
  return changeBy(characterId, request, async ({ state, reading, yardsticks }) => {
    const { findings } = await assessReading(reading, state, yardsticks, { drill });
    const amount = findings.find(({ key }) => key === finding)?.amount ?? null;
    const waiver = {
      character: null,
      finding: finding ?? null,
      check: finding === undefined ? (check ?? null) : null,
      reason,
      author: request.author,
      date: today(),
      until: until ?? null,
      measured: amount?.measured ?? null,
    };
    const others = state.waivers.filter((each) => each.finding !== waiver.finding || each.check !== waiver.check);
    return {
      action: { kind: 'waive', finding, check, reason, until },
      description: `waived ${check ?? finding?.split('/')[0] ?? 'a finding'}: ${reason}`,
      state: { ...state, waivers: [...others, waiver] },
      record: reading,
    };
  });
}

/** Opens again what was waived. */
export const unwaive = (
  characterId: string,
  subject: Pick<WaiveRequest, 'finding' | 'check'>,
  request: ChangeRequest,
): Promise<ChangeResult> =>
  changeBy(characterId, request, ({ state, reading }) => ({
    action: { kind: 'unwaive', ...subject },
    description: `waiver of ${(subject.check ?? subject.finding ?? '').split('/')[0]} taken back`,
    state: {
      ...state,
      waivers: state.waivers.filter(
        ({ finding, check }) => finding !== (subject.finding ?? null) || check !== (subject.check ?? null),
      ),
    },
    record: reading,
  }));
