import { YarvoError } from '../errors/yarvo-error';
import { isReservedFileName, slugOf } from './slug';

/** What a template of file names stands for. */
export interface NameParts {
  readonly character: string;
  readonly motion: string;
}

const TOKENS = ['character', 'motion', 'version'] as const;

/**
 * A checked template of paths: {character}, {motion} and {version} stand for the parts, "/" for folders.
 *
 * @returns path without a version (two files of one base are the same file), and how it is given one.
 * @throws {YarvoError} `bad-template` for unknown parts, paths that lead out, and characters that no system takes.
 */
export function nameTemplate(template: string): {
  readonly base: (parts: NameParts) => string;
  readonly path: (parts: NameParts, version: number) => string;
} {
  const bad = (message: string, remedy: string) =>
    new YarvoError({ code: 'bad-template', message, place: template, remedy });
  const unknown = [...template.matchAll(/\{([^}]*)\}/g)].find(
    ([, name]) => !(TOKENS as readonly string[]).includes(name),
  );
  if (unknown) throw bad(`There is no part ${unknown[0]}.`, 'Use {character}, {motion} and {version}.');
  const plain = template.replace(/\{[a-z]+\}/g, 'x');
  const wrong = /[^A-Za-z0-9 ._/-]/.exec(plain);
  if (wrong)
    throw bad(`"${wrong[0]}" cannot stand in a file name.`, 'Use letters, digits, blanks, ".", "_", "-" and "/".');
  if (plain.split('/').some((part) => /^[. ]*$/.test(part) || /[. ]$/.test(part)))
    throw bad(
      'A folder or file of the template has no name.',
      'Take out empty parts, and dots and blanks at their ends.',
    );
  const kept = plain.split('/').find(isReservedFileName);
  if (kept !== undefined)
    throw bad(`"${kept}" is a name that some systems keep for devices.`, 'Call the folder or file something else.');
  // Names are never written twice: without a place for it, the version goes to the end.
  const whole = template.includes('{version}') ? template : `${template}-v{version}`;
  const filled = ({ character, motion }: NameParts, version: string): string =>
    whole
      .replaceAll('{character}', slugOf(character))
      .replaceAll('{motion}', slugOf(motion))
      .replaceAll('{version}', version);
  return {
    base: (parts) => filled(parts, '*').toLowerCase(),
    path: (parts, version) => filled(parts, String(version).padStart(3, '0')),
  };
}
