import type { Check } from '../finding';

/** The terms under which the character came are among those that the studio takes. */
export const checkLicence: Check = ({ profile, fit, rig }) => {
  const { licences } = profile;
  if (!licences) return [];
  const licence = (fit.intake.provenance.licence || rig.source.provenance.licence).trim();
  if (licence !== '' && licences.some((term) => licence.toLowerCase().includes(term.toLowerCase()))) return [];
  return [
    {
      aspect: licence === '' ? 'unknown' : 'terms',
      severity: licence === '' ? 'caution' : 'blocker',
      sentence: licence === '' ? 'Nobody has said under which terms it may be used.' : `Its licence is ${licence}.`,
      measured: licence === '' ? 'no licence' : licence,
      allowed: licences.join(', '),
      why: 'What may not be used must not reach the game.',
      remedy: 'Set the licence on Intake, or take another character.',
    },
  ];
};
