import { createNodeIO } from '@/formats/gltf/node-io';
import { assessFit } from '@/pipeline/judge';
import { runFirstPass } from '@/pipeline/match';
import { QUAY } from '@/core/definition/quay';
import { YarvoError } from '@/core/errors/yarvo-error';
import { initialFit, type FitState } from '@/core/fit/fit';
import type { FitSubject } from '@/core/fit/actions/action';
import { applyAction, type FitAction } from '@/core/fit/actions/fit-actions';
import { planHandoff } from '@/core/plan/handoff-plan';
import { TIDEWATER } from '@/core/profile/shipped';
import { readGlb } from '@/pipeline/read-files';
import { writeHandoff } from '@/document/write-handoff';

/** First pass, the given actions, then the handed-off file: what the application does, without it. */
export async function makeHandoff(original: Uint8Array, actions: readonly FitAction[] = [{ kind: 'align-posture' }]) {
  const { rig, document } = await readGlb(original, 'test.glb');
  const first = runFirstPass(rig, QUAY);
  const subject: FitSubject = { rig, definition: QUAY, ...first };
  let fit: FitState = initialFit(first.match, QUAY);
  for (const action of actions) {
    const outcome = applyAction(fit, action, subject);
    if (!outcome.ok) throw new Error(outcome.message);
    fit = outcome.state;
  }
  const assessment = assessFit({ rig, fit, definition: QUAY, profile: TIDEWATER, ...first });
  const plan = planHandoff({ rig, fit, definition: QUAY, profile: TIDEWATER, ...first });
  if ('problem' in plan.skeleton) throw new YarvoError(plan.skeleton.problem);
  const { names } = plan;
  const skeleton = plan.skeleton.plan;
  const report = writeHandoff(document, rig, skeleton, names);
  const bytes = await createNodeIO().writeBinary(document);
  return { rig, fit, first, assessment, names, skeleton, bytes, report };
}
