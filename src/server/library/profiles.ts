import { Op } from 'sequelize';
import type { ProfileEntry } from '@/contract/studio';
import { YarvoError } from '@/core/errors/yarvo-error';
import type { EngineProfile } from '@/core/profile/profile';
import { models } from '../database/models';
import { inTransaction } from '../database/transaction';
import { entry, keep, newest } from './library';

/** Engine profiles by label, each with its versions, newest first. */
export async function listProfiles(): Promise<ProfileEntry[]> {
  const rows = await models().Library.findAll({
    where: { kind: 'profile' },
    attributes: ['id', 'label', 'version', 'createdBy', 'createdAt'],
    order: [['version', 'DESC']],
  });
  const byId = new Map<string, ProfileEntry>();
  for (const { id, label, version, createdBy, createdAt } of rows) {
    const known = byId.get(id) ?? { id, label, versions: [], fits: 0 };
    const versions = [...known.versions, { version, createdBy, createdAt: createdAt.toISOString() }];
    byId.set(id, { ...known, versions });
  }
  const counted = await Promise.all(
    [...byId.values()].map(async (each) => {
      const [first] = each.versions;
      // What a fit was counted by names the profile that judges it.
      const by = `% ${each.id}@${first.version}`;
      const fits = await models().Fit.count({
        where: { countedBy: { [Op.or]: [{ [Op.like]: by }, { [Op.like]: `${by} until %` }] } },
      });
      return { ...each, fits };
    }),
  );
  return counted.sort((a, b) => a.label.localeCompare(b.label, 'en'));
}

/** @throws {YarvoError} `not-in-library` */
export const readProfile = (id: string, version?: number): Promise<EngineProfile> =>
  version === undefined ? newest('profile', id) : entry('profile', id, version);

/** Keeps a profile as the version after the newest one. @throws {YarvoError} `profile-behind` where somebody was first. */
export async function saveProfile(profile: EngineProfile, author: string): Promise<EngineProfile> {
  const isFree = await inTransaction(async (transaction) => {
    const known = await models().Library.max('version', {
      where: { kind: 'profile', id: profile.id },
      transaction,
    });
    return Number(known ?? 0) + 1 === profile.version;
  });
  if (!isFree)
    throw new YarvoError({
      code: 'profile-behind',
      message: `Version ${profile.version} of ${profile.label} is not the next one.`,
      place: 'version',
      remedy: 'Read the newest version, make your change there, and save again.',
    });
  await keep('profile', profile, author);
  return readProfile(profile.id, profile.version);
}
