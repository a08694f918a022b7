import { contradictionsOf } from '../../profile/contradictions';
import type { Check } from '../finding';

/** What is wrong with the profile that everything else is judged by: one that was kept may be older than today's rules. */
export const checkProfileFaults: Check = ({ profile }) =>
  contradictionsOf(profile).map(({ path, message }) => ({
    aspect: path.join('.'),
    severity: 'blocker',
    sentence: `The engine profile ${profile.label} has a fault: ${path.join('.')} ${message}.`,
    measured: path.join('.'),
    allowed: 'a profile without faults',
    why: 'What a faulty profile asks for cannot be checked.',
    remedy: 'Correct the field in the Studio and save the profile as its next version.',
  }));
