import { GROWN_METRES, isSizeInDoubt, unitName, unitText } from '../../frame/normalise';
import type { Check, FindingDraft } from '../finding';

const DEGREE = Math.PI / 180;
/** Heights that need no question, of figures and of what no figure was found in. */
const FIGURE_METRES = [0.25, 12] as const;
const THING_METRES = [0.02, 30] as const;
const metres = (value: number): string => `${value.toFixed(2)} m`;

/** Unit, up axis and facing as the file writes them, against what the engine reads. */
export const checkUnitAndAxes: Check = ({ normalisation, profile, match, rig, fit }) => {
  const findings: FindingDraft[] = [];
  const add = (
    aspect: string,
    severity: FindingDraft['severity'],
    sentence: string,
    measured: string,
    allowed: string,
    why: string,
    remedy: string,
  ) =>
    findings.push({
      aspect,
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
      'header-unit',
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
      'header-up',
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
      'unit',
      'note',
      `The file counts in ${unitName(normalisation.scale)}; the engine reads ${unitName(profile.metresPerUnit)}.`,
      unitText(normalisation.scale),
      unitText(profile.metresPerUnit),
      'Known and stated by the file.',
      `Handoff writes it in ${unitName(profile.metresPerUnit)}.`,
    );
  } else if (normalisation.scale !== profile.metresPerUnit && unitMetres === null) {
    add(
      'unknown-unit',
      'caution',
      `Read in ${unitName(profile.metresPerUnit)}, the figure would be ${metres(normalisation.heightFile * profile.metresPerUnit)} tall; it is read in ${unitName(normalisation.scale)}.`,
      metres(normalisation.heightFile * profile.metresPerUnit),
      metres(normalisation.heightMetres),
      'A file in the wrong unit arrives a hundred times too big or too small.',
      `Handoff writes it in ${unitName(profile.metresPerUnit)}.`,
    );
  }
  if (isSizeInDoubt(normalisation, profile.heightMetres)) {
    add(
      'unit-in-doubt',
      'blocker',
      `Its unit is a guess: ${normalisation.heightFile.toFixed(2)} units are read as ${normalisation.heightMetres.toFixed(2)} m.`,
      metres(normalisation.heightMetres),
      profile.heightMetres
        ? `${GROWN_METRES[0]} to ${GROWN_METRES[1]} m, or what ${profile.label} states`
        : `${GROWN_METRES[0]} to ${GROWN_METRES[1]} m`,
      'A figure that is three times too tall is found in the game, not before.',
      'Say on Intake how tall it is, in which unit it was made, or that it is a child or a giant.',
    );
  }
  const [low, high] = match.creature.isHumanoid ? FIGURE_METRES : THING_METRES;
  const { heightMetres } = normalisation;
  if (fit.intake.unitMetres === null && heightMetres > 0 && (heightMetres < low || heightMetres > high)) {
    add(
      'size',
      'caution',
      `It would be ${heightMetres < 0.1 ? `${(heightMetres * 1000).toFixed(1)} mm` : `${heightMetres.toFixed(1)} m`} tall: its unit is in doubt.`,
      metres(heightMetres),
      `${low} to ${high} m`,
      'Nothing of that size is made for a game by hand; most likely it was written in another unit.',
      'Set the unit on Intake; what is set there is not doubted again.',
    );
  }
  if (normalisation.up !== profile.up && (up === null || up === normalisation.up)) {
    add(
      'up',
      up === null ? 'caution' : 'note',
      `The body's up is the file's ${normalisation.up}.`,
      normalisation.up,
      profile.up,
      'The character would arrive lying down.',
      'Handoff turns it upright.',
    );
  }
  if (normalisation.facing !== profile.facing) {
    // Z up and facing -Y, or Y up and facing +Z, is how files are mostly written.
    const { facing } = normalisation;
    const isUsual = up === normalisation.up && ((up === '+Z' && facing === '-Y') || (up === '+Y' && facing === '+Z'));
    add(
      'facing',
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
      'turn',
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
      'swapped-sides',
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
