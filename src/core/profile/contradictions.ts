import { patternOf } from './pattern';
import type { EngineProfile } from './profile-shape';

export interface Contradiction {
  readonly message: string;
  readonly path: string[];
}

const axisOf = (name: string): string => name[1];

/** What of a profile cannot hold together; all of it, so that it is mended in one go. */
export function contradictionsOf(profile: EngineProfile): Contradiction[] {
  const found: Contradiction[] = [];
  const add = (path: string, message: string): void => {
    found.push({ path: path.split('.'), message });
  };
  const { names, rootBone, rootName, helpers, attachments, axes, limits, heightMetres, clips, ratios } = profile;
  if (axisOf(profile.up) === axisOf(profile.facing))
    add('facing', `cannot be ${profile.facing} where ${profile.up} is up`);
  if (axes && axisOf(axes.along) === axisOf(axes.hinge))
    add('axes.hinge', `cannot be ${axes.hinge} where ${axes.along} points along the bone`);
  if (rootBone === 'forbidden') {
    if (rootName !== null) add('rootName', 'names a root that rootBone forbids');
    for (const [at, { name, parent }] of helpers.entries())
      if (parent === 'root') add(`helpers.${at}.parent`, `${name} hangs on a root that rootBone forbids`);
    if (clips.travel === 'root') add('clips.travel', 'puts travel into a root that rootBone forbids');
  }
  const allowed = patternOf(names.allowed);
  if (!allowed.ok) add('names.allowed', `is ${allowed.why}`);
  const isAllowed = (name: string): boolean =>
    (!allowed.ok || allowed.pattern.test(name)) && name.length <= names.maxLength;
  const wanted = [
    ...(rootName === null ? [] : [['rootName', rootName] as const]),
    ...helpers.map(({ name }, at) => [`helpers.${at}.name`, name] as const),
    ...attachments.map(({ name }, at) => [`attachments.${at}.name`, name] as const),
  ];
  const taken = new Set<string>();
  for (const [path, name] of wanted) {
    if (!isAllowed(name)) add(path, `"${name}" is a name that names refuses`);
    if (names.reserved.includes(name)) add(path, `"${name}" is reserved`);
    if (!name.startsWith(names.prefix)) add(path, `"${name}" does not start with "${names.prefix}"`);
    if (taken.has(name.toLowerCase())) add(path, `"${name}" is wanted twice`);
    taken.add(name.toLowerCase());
  }
  if (names.prefix !== '' && names.prefix.length >= names.maxLength)
    add('names.prefix', `leaves no room in names of ${names.maxLength} characters`);
  if (names.letters === 'lower' && names.prefix !== names.prefix.toLowerCase())
    add('names.prefix', 'has upper-case letters where only lower-case ones are allowed');
  if (names.letters === 'upper' && names.prefix !== names.prefix.toUpperCase())
    add('names.prefix', 'has lower-case letters where only upper-case ones are allowed');
  const bones = new Set<string>();
  for (const { name, parent } of profile.skeleton?.bones ?? []) {
    if (bones.has(name)) add('skeleton.bones', `${name} is there twice`);
    if (parent !== null && !bones.has(parent))
      add('skeleton.bones', `${name} hangs on ${parent}, which does not stand before it`);
    bones.add(name);
  }
  const { bonesPerSkeleton, bonesPerDraw, influences, leastWeight } = limits;
  if (bonesPerSkeleton !== null && bonesPerSkeleton < profile.requiredRoles.length + helpers.length)
    add('limits.bonesPerSkeleton', `${bonesPerSkeleton} bones cannot hold the roles and helpers that are required`);
  if (bonesPerDraw !== null && bonesPerSkeleton !== null && bonesPerDraw > bonesPerSkeleton)
    add('limits.bonesPerDraw', `${bonesPerDraw} is more than a skeleton may have`);
  if (influences !== null && leastWeight * influences >= 1)
    add('limits.leastWeight', `${leastWeight} leaves no weights for ${influences} influences`);
  const { textureSize } = limits;
  if (profile.textures.isPowerOfTwo && textureSize !== null && (textureSize & (textureSize - 1)) !== 0)
    add('limits.textureSize', `${textureSize} is no power of two, which textures must be`);
  for (const [path, range] of [
    ['heightMetres', heightMetres],
    ['clips.seconds', clips.seconds],
    ['ratios.span', ratios.span],
    ['ratios.legs', ratios.legs],
  ] as const)
    if (range && range.least > range.most) add(path, `its least, ${range.least}, is above its most, ${range.most}`);
  return found;
}
