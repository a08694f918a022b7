import { distinct, factsOf, listNames, type Check, type FindingDraft } from '../finding';

/** Materials are as many and of the kinds that the engine draws. */
export const checkMaterials: Check = (plan) => {
  const { profile } = plan;
  const { materials, parts } = factsOf(plan);
  const used = new Set(parts.map(({ material }) => material));
  const own = materials.filter((_, at) => used.has(at));
  const found: FindingDraft[] = [];
  const most = profile.limits.materials;
  if (most !== null && own.length > most)
    found.push({
      aspect: 'count',
      severity: 'caution',
      sentence: `The figure has ${own.length} materials; ${profile.label} draws ${most}.`,
      measured: `${own.length} materials`,
      allowed: `at most ${most}`,
      amount: { measured: own.length, allowed: most, unit: 'materials' },
      why: 'Each material is a draw of its own.',
      remedy: 'Put their textures on one sheet in the source file.',
      parts: own.map(({ name }) => name),
    });
  const doubled = own.filter(({ isDoubleSided }) => isDoubleSided);
  if (!profile.materials.doubleSided && doubled.length > 0)
    found.push({
      aspect: 'double-sided',
      severity: 'caution',
      sentence: `${listNames(doubled.map(({ name }) => name))} ${doubled.length === 1 ? 'is' : 'are'} drawn from both sides.`,
      measured: `${doubled.length} double-sided`,
      allowed: 'none',
      amount: { measured: doubled.length, allowed: 0, unit: 'materials' },
      why: 'The engine draws one side; cloth is seen through from the other.',
      remedy: 'Draw them from the front only, and give cloth a back in the source file where it is seen.',
      parts: doubled.map(({ name }) => name),
      repair: 'single-sided',
    });
  const { extensions } = profile.materials;
  const unknown = extensions ? own.filter((each) => each.extensions.some((name) => !extensions.includes(name))) : [];
  if (unknown.length > 0) {
    const names = distinct(unknown.flatMap((each) => each.extensions.filter((name) => !extensions?.includes(name))));
    found.push({
      aspect: 'unknown',
      severity: 'note',
      sentence: `${listNames(unknown.map(({ name }) => name))} use ${listNames(names)}, which ${profile.label} does not know.`,
      measured: listNames(names),
      allowed: extensions && extensions.length > 0 ? extensions.join(', ') : 'none',
      why: 'The engine leaves that out; the material looks plainer than here.',
      remedy: 'Look at it in the engine.',
      parts: unknown.map(({ name }) => name),
    });
  }
  const bare = distinct(parts.filter(({ material }) => material < 0).map(({ name }) => name));
  if (bare.length > 0)
    found.push({
      aspect: 'none',
      severity: 'note',
      sentence: `${listNames(bare)} ${bare.length === 1 ? 'has' : 'have'} no material.`,
      measured: `${bare.length} parts`,
      allowed: 'none',
      amount: { measured: bare.length, allowed: 0, unit: 'parts' },
      why: 'The engine gives it its own grey one.',
      remedy: 'Give it a material in the source file.',
      parts: bare,
    });
  return found;
};
