import { runChecks } from '@/core/checks/run-checks';
import type { Finding } from '@/core/checks/finding';
import type { Definition } from '@/core/definition/definition';
import { YarvoError } from '@/core/errors/yarvo-error';
import { applyAction } from '@/core/fit/actions/fit-actions';
import { initialFit, type FitState } from '@/core/fit/fit';
import { NO_DECISIONS } from '@/core/intake/decisions';
import { planHandoff, type HandoffPlan } from '@/core/plan/handoff-plan';
import type { EngineProfile } from '@/core/profile/profile';
import { chooseRepairs, postureActions, type ChosenRepairs } from '@/core/repairs/choose-repairs';
import { REPAIR_KINDS, type RepairKind } from '@/core/repairs/repair-kinds';
import { USUAL_OPTIONS } from '@/core/fit/handoff-options';
import { addedBy } from './added-bones';
import { writeHandoff } from '@/document/write-handoff';
import type { SourceFile } from '@/formats/files/companions';
import { createNodeIO } from '@/formats/gltf/node-io';
import { runFirstPass } from './match';
import { interpret } from './read';
import { motionOf, readGlb, type CanonicalReading } from './read-files';

export interface CheckYardsticks {
  readonly definition: Definition;
  readonly profile: EngineProfile;
}

export interface Checked {
  readonly plan: HandoffPlan;
  readonly findings: readonly Finding[];
}

const NO_REPAIRS: ChosenRepairs = {
  intake: NO_DECISIONS,
  handoff: USUAL_OPTIONS,
  aligns: false,
  straightens: false,
};

/** Matches what was read and checks what would be handed off of it. */
export function checkReading(
  reading: CanonicalReading,
  { definition, profile }: CheckYardsticks,
  { intake, handoff, ...turns }: ChosenRepairs = NO_REPAIRS,
): Checked {
  const { rig } = reading;
  const first = runFirstPass(rig, definition, { motion: motionOf(reading) }, intake);
  const found: FitState = { ...initialFit(first.match, definition, intake), handoff };
  const fit = postureActions(turns, found, definition).reduce<FitState>((state, action) => {
    const outcome = applyAction(state, action, { rig, definition, ...first });
    return outcome.ok ? outcome.state : state;
  }, found);
  const plan = planHandoff({ rig, ...first, fit, definition, profile });
  return { plan, findings: runChecks(plan) };
}

export interface Repaired extends Checked {
  /** What was repaired, in the order in which it is carried out. */
  readonly repairs: readonly RepairKind[];
  /** The repaired character as it is handed off. */
  readonly glb: Uint8Array;
}

/** What one repair uncovers the next one mends; more rounds than this mean that nothing helps. */
const MOST_ROUNDS = 5;

/**
 * Makes the repairs that the findings offer until none of the given kinds is offered, and writes the character.
 * @throws {YarvoError} where the files cannot be read, or a joint cannot be written.
 */
export async function repairFile(
  source: { readonly main: SourceFile; readonly files: readonly SourceFile[] },
  yardsticks: CheckYardsticks,
  kinds: ReadonlySet<RepairKind>,
): Promise<Repaired> {
  const made = new Set<RepairKind>();
  let chosen = NO_REPAIRS;
  for (let round = 0; ; round++) {
    const { glb, origins } = await interpret({ ...source, main: source.main.path, decisions: chosen.intake });
    const reading = await readGlb(glb, source.main.path);
    const checked = checkReading(reading, yardsticks, chosen);
    const offered = new Set(checked.findings.flatMap(({ repair }) => (repair && kinds.has(repair) ? [repair] : [])));
    const next = chooseRepairs(checked.plan, offered, (node) => origins[node] ?? -1);
    const turns = {
      aligns: chosen.aligns || next.aligns,
      straightens: chosen.straightens || next.straightens,
    };
    const isSame = JSON.stringify({ ...next, ...turns }) === JSON.stringify(chosen);
    if (!isSame && round < MOST_ROUNDS) {
      for (const kind of offered) made.add(kind);
      chosen = { ...next, ...turns };
      continue;
    }
    return { ...checked, repairs: REPAIR_KINDS.filter((kind) => made.has(kind)), glb: await written(reading, checked) };
  }
}

async function written({ document, rig }: CanonicalReading, { plan }: Checked): Promise<Uint8Array> {
  if ('problem' in plan.skeleton) throw new YarvoError(plan.skeleton.problem);
  writeHandoff(document, rig, plan.skeleton.plan, plan.names, addedBy(plan));
  return createNodeIO().writeBinary(document);
}
