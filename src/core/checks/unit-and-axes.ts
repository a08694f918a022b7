import { unitName, unitText } from '../frame/normalise';
import type { Check, Finding } from './finding';

const DEGREE = Math.PI / 180;

/** Unit, up axis and facing as the file writes them, against what the engine reads. */
export const checkUnitAndAxes: Check = ({ normalisation, profile, match, rig }) => {
  const findings: Finding[] = [];
  const add = (
    severity: Finding['severity'],
    sentence: string,
    measured: string,
    allowed: string,
    why: string,
    remedy: string,
  ) =>
    findings.push({
      check: 'unit-and-axes',
      severity,
      sentence,
      measured,
      allowed,
      why,
      remedy,
      boneIndices: [],
      roles: [],
    });
  const { unitMetres, up } = rig.source;
  // Where the header and the body disagree, what was measured stands and the finding says so.
  if (unitMetres !== null && Math.abs(normalisation.scale / unitMetres - 1) > 1e-3) {
    add(
      'caution',
      `The header's unit of ${unitText(unitMetres)} makes the figure ${(normalisation.heightFile * unitMetres).toFixed(2)} m tall; it is read with ${unitText(normalisation.scale)}.`,
      unitText(normalisation.scale),
      unitText(unitMetres),
      'A wrong unit in the header makes every other program import it in the wrong size.',
      'Check the height on Intake; set the unit there if it is not right.',
    );
  }
  if (up !== null && up !== normalisation.up) {
    add(
      'caution',
      `The header says ${up} is up, the body shows ${normalisation.up}.`,
      normalisation.up,
      up,
      'Programs that trust the header lay the character down.',
      'Check the stage on Intake; set the up axis there if it is not right.',
    );
  }
  if (Math.abs(normalisation.scale - profile.metresPerUnit) > 1e-9 && unitMetres === normalisation.scale) {
    add(
      'note',
      `The file counts in ${unitText(normalisation.scale)}; the engine reads metres.`,
      unitText(normalisation.scale),
      unitText(profile.metresPerUnit),
      'Known and stated by the file.',
      'Handoff writes it in metres.',
    );
  } else if (normalisation.scale !== profile.metresPerUnit && unitMetres === null) {
    add(
      'caution',
      `The figure is ${normalisation.heightFile.toFixed(1)} units tall: too ${normalisation.scale < 1 ? 'tall' : 'small'} if its unit is the metre; read as ${unitName(normalisation.scale)}.`,
      `${normalisation.heightFile.toFixed(2)} units`,
      `${normalisation.heightMetres.toFixed(2)} m`,
      'A file in the wrong unit arrives a hundred times too big or too small.',
      'Handoff writes it in metres.',
    );
  }
  if (normalisation.up !== profile.up && (up === null || up === normalisation.up)) {
    add(
      up === null ? 'caution' : 'note',
      `The body's up is the file's ${normalisation.up}.`,
      normalisation.up,
      profile.up,
      'The character would arrive lying down.',
      'Handoff turns it upright.',
    );
  }
  if (normalisation.facing !== profile.facing) {
    // Z up and facing -Y is how such files are mostly written.
    const isUsual = normalisation.up === '+Z' && normalisation.facing === '-Y' && up === '+Z';
    add(
      isUsual ? 'note' : 'caution',
      `The character faces the file's ${normalisation.facing}.`,
      normalisation.facing,
      profile.facing,
      'The character would walk sideways or backwards.',
      'Handoff turns it to the front.',
    );
  }
  if (Math.abs(normalisation.residualYawRad) > 5 * DEGREE) {
    add(
      'note',
      `The character is turned ${(normalisation.residualYawRad / DEGREE).toFixed(1)} degrees off its axis.`,
      `${(normalisation.residualYawRad / DEGREE).toFixed(1)} degrees`,
      'within 5.0 degrees',
      'A rest pose that is not straight shows in every motion.',
      'Check the pose on Posture.',
    );
  }
  if (match.frame.namesAreSwapped) {
    add(
      'caution',
      'Left and right names are swapped: the body shows the opposite of what the names say.',
      'names against toes, knees and thumbs',
      'names that agree with the body',
      'Motions would be mirrored.',
      'Check one hand on Match; exchange the sides if the names are right.',
    );
  }
  return findings;
};
