import type { CharacterView, FitView } from '@/contract/character-view';
import { findRaisedOrigin, type RaisedOrigin } from '@/core/frame/origin';
import { roleBonesOf } from '@/core/fit/fit';

/** "at the hips, soles 0.86 m below it". */
export function originText({ solesBelowMetres, isAtHips }: RaisedOrigin): string {
  const soles = `soles ${Math.abs(solesBelowMetres).toFixed(2)} m ${solesBelowMetres > 0 ? 'below' : 'above'} it`;
  return isAtHips ? `at the hips, ${soles}` : `away from the floor, ${soles}`;
}

/** What a person should look at first, as sentences; empty for a tidy file. */
export function oddThings({ rig, match, sheet, normalisation }: CharacterView, fit: FitView): string[] {
  const odd: string[] = [];
  const { intake } = fit.state;
  if (rig.kind === 'mesh') odd.push('The file holds a mesh and no skeleton: there is nothing to match.');
  else if (!match.creature.isHumanoid) odd.push(`Not a humanoid: ${match.creature.reasons.join('; ')}.`);
  if (match.frame.namesAreSwapped) odd.push('Left and right names are swapped against what the body shows.');
  odd.push(
    ...fit.findings
      .filter((finding) => finding.check === 'unit-and-axes' && finding.severity === 'caution')
      .map((finding) => finding.sentence),
  );
  const origin = findRaisedOrigin(rig, normalisation, roleBonesOf(fit.state));
  if (origin && fit.state.origin === 'file') odd.push(`Origin ${originText(origin)}: see Unit and axes.`);
  if (rig.source.handedness === 'left') odd.push('The file is left-handed; it was mirrored as it was read.');
  const missing = rig.source.textures.filter((texture) => texture.status === 'missing').length;
  if (missing > 0) odd.push(`${missing} of ${rig.source.textures.length} textures are missing.`);
  if (sheet.copies.length > 0 && intake.folds.length === 0)
    odd.push(`${sheet.copies.length} bones are copies of the figure's, as clothing brings them.`);
  const bind = sheet.poses.find((pose) => pose.pose === 'bind');
  if (bind && bind.boneCount > 0 && intake.pose.kind === 'rest')
    odd.push(
      `The bind pose differs from the file's rest by up to ${bind.maxDegrees.toFixed(1)} degrees in ${bind.boneCount} bones.`,
    );
  for (const part of sheet.parts)
    if (part.added.length > 0)
      odd.push(
        `${part.path.split('/').pop()} brings ${part.added.length} bones that the figure does not have: ${part.added.slice(0, 3).join(', ')}.`,
      );
  odd.push(...rig.remarks);
  if (rig.kind === 'character' && rig.mesh.maxInfluences > 4)
    odd.push(`Up to ${rig.mesh.maxInfluences} influences per vertex; the stage draws four of them, handoff keeps all.`);
  const extras = sheet.extras.filter(
    (extra) => extra.kind !== 'container' && !intake.leftOut.includes(extra.nodeIndex),
  );
  if (extras.length > 0)
    odd.push(
      `${extras.length} ${extras.length === 1 ? 'thing does' : 'things do'} not belong to the skeleton: ${extras
        .slice(0, 3)
        .map((extra) => extra.name)
        .join(', ')}${extras.length > 3 ? ' …' : ''}.`,
    );
  if (fit.findings.some((finding) => finding.check === 'root-bone'))
    odd.push('There is no root bone at the floor origin; handoff adds one.');
  return odd;
}
