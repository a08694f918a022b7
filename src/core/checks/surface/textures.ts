import type { FileFacts } from '../../rig/file-facts';
import { factsOf, listNames, type Check, type FindingDraft } from '../finding';

type Image = FileFacts['images'][number];
const isPower = (value: number): boolean => value > 0 && (value & (value - 1)) === 0;

/** Textures are there, in a size and format that the engine loads. */
export const checkTextures: Check = (plan) => {
  const { profile, rig } = plan;
  const { images } = factsOf(plan);
  const found: FindingDraft[] = [];
  const missing = rig.source.textures.filter(({ status }) => status === 'missing').map(({ name }) => name);
  if (missing.length > 0)
    found.push({
      aspect: 'missing',
      severity: 'caution',
      sentence: `${missing.length === 1 ? 'A texture is' : `${missing.length} textures are`} missing: ${listNames(missing)}.`,
      measured: `${missing.length} missing`,
      allowed: 'none',
      amount: { measured: missing.length, allowed: 0, unit: 'textures' },
      why: 'The engine shows its stand-in, or refuses the material.',
      remedy: 'Drop the pictures on Intake.',
      parts: missing,
    });
  const say = (
    aspect: string,
    wrong: readonly Image[],
    sentence: (names: string) => string,
    measured: (image: Image) => string,
    allowed: string,
    amount: (image: Image) => FindingDraft['amount'],
    why: string,
    repair: FindingDraft['repair'],
  ): void => {
    if (wrong.length === 0) return;
    const names = wrong.map(({ name }) => name);
    found.push({
      aspect,
      severity: 'caution',
      sentence: sentence(listNames(names)),
      measured: measured(wrong[0]),
      allowed,
      amount: amount(wrong[0]),
      why,
      remedy: repair ? 'Scale them to the nearest size that is allowed.' : 'Save them in another format.',
      parts: names,
      repair,
    });
  };
  const { isPowerOfTwo, types } = profile.textures;
  const size = profile.limits.textureSize;
  const text = ({ width, height }: Image) => `${width} × ${height}`;
  const known = images.filter(({ width, height }) => width > 0 && height > 0);
  if (isPowerOfTwo)
    say(
      'power',
      known.filter(({ width, height }) => !isPower(width) || !isPower(height)),
      (names) => `The sides of ${names} are no powers of two.`,
      text,
      'powers of two',
      () => null,
      'They cannot be compressed, or get no smaller copies for the distance.',
      'resize-textures',
    );
  if (size !== null)
    say(
      'size',
      known.filter(({ width, height }) => Math.max(width, height) > size),
      (names) => `${names} ${images.length === 1 ? 'is' : 'are'} larger than ${profile.label} loads.`,
      text,
      `at most ${size}`,
      ({ width, height }) => ({ measured: Math.max(width, height), allowed: size, unit: 'pixels' }),
      'The engine scales them while it loads, or refuses them.',
      'resize-textures',
    );
  if (types)
    say(
      'type',
      images.filter(({ mimeType, bytes }) => bytes > 0 && !types.includes(mimeType)),
      (names) => `${names} ${images.length === 1 ? 'has' : 'have'} a format that ${profile.label} does not load.`,
      ({ mimeType }) => mimeType,
      types.join(', '),
      () => null,
      'The material stays white.',
      null,
    );
  return found;
};
