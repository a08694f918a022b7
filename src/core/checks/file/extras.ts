import { factsOf, listNames, type Check, type FindingDraft } from '../finding';

/** Nothing is in the file that is not of the figure: cameras, lights, empty nodes, nodes that no scene shows. */
export const checkExtras: Check = (plan) => {
  const { rig, profile } = plan;
  const { strayRoots, unseen } = factsOf(plan);
  const named = (kind: string): string[] => rig.extras.filter((extra) => extra.kind === kind).map(({ name }) => name);
  const found: FindingDraft[] = [];
  const say = (aspect: string, names: readonly string[], what: string): void => {
    if (names.length === 0) return;
    const many = names.length === 1 ? what : `${what}s`;
    found.push({
      aspect,
      severity: 'note',
      sentence: `The file holds ${names.length} ${many}: ${listNames(names)}.`,
      measured: `${names.length} ${many}`,
      allowed: 'none',
      amount: { measured: names.length, allowed: 0, unit: many },
      why: 'What is not of the figure comes into the game with it.',
      remedy: 'Handoff leaves it out.',
      parts: [...names],
    });
  };
  if (!profile.cameras) say('camera', named('camera'), 'camera');
  if (!profile.lights) say('light', named('light'), 'light');
  if (!profile.extraNodes) {
    say('stray-root', strayRoots, 'top node without bone or mesh');
    say('unseen', unseen, 'node that no scene shows');
  }
  return found;
};
