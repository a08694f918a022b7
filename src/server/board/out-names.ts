import { createHash } from 'node:crypto';
import { YarvoError } from '@/core/errors/yarvo-error';
import { nameTemplate, type NameParts } from '@/core/text/name-template';
import { models } from '../database/models';
import { inTransaction } from '../database/transaction';

/** Two clips under one name: nothing is written. @throws {YarvoError} `bad-template`, `same-name` */
export function checkNames(
  template: string,
  characters: readonly { readonly name: string }[],
  motions: readonly { readonly name: string }[],
): void {
  const { base } = nameTemplate(template);
  const taken = new Map<string, string>();
  for (const character of characters)
    for (const motion of motions) {
      const name = base({ character: character.name, motion: motion.name });
      const what = `${motion.name} of ${character.name}`;
      const other = taken.get(name);
      if (other !== undefined)
        throw new YarvoError({
          code: 'same-name',
          message: `"${template}" gives ${other} and ${what} the same name.`,
          place: name,
          remedy: 'Put {character} and {motion} into the template, or rename one of them.',
        });
      taken.set(name, what);
    }
}

/**
 * The next version of each name, counted up together, so that no name is given twice; what then fails leaves a gap.
 * @returns versions in the order of the names, one for each.
 */
export function nextVersions(template: string, parts: readonly NameParts[]): Promise<number[]> {
  const { base } = nameTemplate(template);
  return inTransaction(async (transaction) => {
    const versions = new Map<string, number>();
    // In one order for all, so that two at once wait for each other and never in a ring.
    for (const name of [...new Set(parts.map(base))].sort()) {
      const nameHash = createHash('sha256').update(name).digest('hex');
      const [row] = await models().MotionName.findOrCreate({
        where: { nameHash },
        defaults: { nameHash, version: 0 },
        transaction,
        lock: true,
      });
      versions.set(name, row.version + 1);
      await models().MotionName.update({ version: row.version + 1 }, { where: { nameHash }, transaction });
    }
    return parts.map((each) => versions.get(base(each)) as number);
  });
}
