import type { Check, FindingDraft } from '../finding';

/** Rates this near to the wanted one are it. */
const SLACK = 0.01;

/** Clips have the rate and the length that the engine takes. */
export const checkClipRate: Check = ({ rig, profile }) => {
  const { framesPerSecond, seconds } = profile.clips;
  return rig.clips.flatMap(({ name, framesPerSecond: rate, durationSeconds, boneCount }): FindingDraft[] => {
    if (boneCount === 0) return [];
    const found: FindingDraft[] = [];
    if (framesPerSecond !== null && rate > 0 && Math.abs(rate / framesPerSecond - 1) > SLACK)
      found.push({
        aspect: 'rate',
        severity: 'caution',
        sentence: `The clip ${name} has ${rate.toFixed(1)} frames a second; ${profile.label} plays ${framesPerSecond}.`,
        measured: `${rate.toFixed(1)} a second`,
        allowed: `${framesPerSecond} a second`,
        amount: { measured: rate, allowed: framesPerSecond, unit: 'frames a second' },
        why: 'Frames that are dropped or doubled show as a stutter.',
        remedy: 'Resample the clip.',
        parts: [name],
        repair: 'resample-clips',
      });
    if (seconds && (durationSeconds < seconds.least || durationSeconds > seconds.most))
      found.push({
        aspect: 'length',
        severity: 'caution',
        sentence: `The clip ${name} lasts ${durationSeconds.toFixed(2)} s.`,
        measured: `${durationSeconds.toFixed(2)} s`,
        allowed: `${seconds.least} to ${seconds.most} s`,
        amount: {
          measured: durationSeconds,
          allowed: durationSeconds < seconds.least ? seconds.least : seconds.most,
          unit: 's',
        },
        why: 'The engine keeps clips of these lengths in memory.',
        remedy: 'Trim it in the Drill, or leave it out on Intake.',
        parts: [name],
      });
    return found;
  });
};
