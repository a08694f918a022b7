import { QueryTypes } from 'sequelize';
import type { ProfileEntry } from '@/contract/studio';
import { YarvoError } from '@/core/errors/yarvo-error';
import type { EngineProfile } from '@/core/profile/profile';
import { patternOf } from '@/core/profile/pattern';
import { madeOnce } from '../calls/made-once';
import { database } from '../database/connection';
import { models } from '../database/models';
import { partsOfCount } from './count-names';
import { entry, keep, listEntries, newest } from './library';

/** Engine profiles by label, each with its versions, newest first: two statements, however many there are. */
export async function listProfiles(): Promise<ProfileEntry[]> {
  const [rows, counts] = await Promise.all([
    database().query<ProfileRow>(
      `SELECT id, label, version, created_by AS createdBy, created_at AS createdAt,
         JSON_VALUE(body, '$.names.allowed') AS pattern
       FROM library WHERE kind = 'profile' ORDER BY version DESC`,
      { type: QueryTypes.SELECT },
    ),
    database().query<{ by: string; fits: number }>(
      'SELECT counted_by AS `by`, COUNT(*) AS fits FROM fits GROUP BY counted_by',
      { type: QueryTypes.SELECT },
    ),
  ]);
  const fitsBy = new Map<string, number>();
  for (const { by, fits } of counts) {
    // What a fit was counted by ends with the profile that judges it.
    const profile = partsOfCount(by).yardsticks.split(' ').at(-1) ?? '';
    fitsBy.set(profile, (fitsBy.get(profile) ?? 0) + Number(fits));
  }
  const byId = new Map<string, ProfileEntry>();
  for (const { id, label, version, createdBy, createdAt, pattern } of rows) {
    const made = { version, createdBy, createdAt: new Date(createdAt).toISOString() };
    const known = byId.get(id);
    if (known) {
      known.versions.push(made);
      continue;
    }
    const outcome = patternOf(pattern ?? '');
    const fault = outcome.ok ? null : `names.allowed is ${outcome.why}`;
    byId.set(id, { id, label, versions: [made], fits: fitsBy.get(`${id}@${version}`) ?? 0, fault });
  }
  return [...byId.values()].sort((a, b) => a.label.localeCompare(b.label, 'en'));
}

interface ProfileRow {
  readonly id: string;
  readonly label: string;
  readonly version: number;
  readonly createdBy: string;
  readonly createdAt: Date;
  readonly pattern: string | null;
}

/** @throws {YarvoError} `not-in-library` */
export const readProfile = (id: string, version?: number): Promise<EngineProfile> =>
  version === undefined ? newest('profile', id) : entry('profile', id, version);

/**
 * Keeps a profile as the version after the newest one; the same call sent again is answered with what it kept.
 * @throws {YarvoError} `profile-behind` where somebody else was first, or versions are missing in between;
 *   `unknown-role` where it names roles that none of the studio's definitions has.
 */
export async function saveProfile(
  profile: EngineProfile,
  author: string,
  callId: string | null,
): Promise<EngineProfile> {
  const { id, label, version } = profile;
  await assertRoles(profile);
  return madeOnce(callId, async (transaction) => {
    const where = { kind: 'profile', id };
    const last = Number((await models().Library.max('version', { where, transaction })) ?? 0);
    // Versions are only ever added: of several that are the next one now, the table's key lets one through.
    if (version === last + 1 && (await keep('profile', profile, author, transaction))) return profile;
    const there = await models().Library.findOne({ where: { ...where, version }, transaction, lock: true });
    const newestVersion = Math.max(last, there?.version ?? 0);
    throw new YarvoError({
      code: 'profile-behind',
      message: there
        ? `Version ${version} of ${label} was saved by ${there.createdBy} meanwhile; ${newestVersion} is the newest.`
        : `Version ${version} of ${label} is not the next one: ${newestVersion} is the newest.`,
      place: 'version',
      remedy: `Compare yours with version ${newestVersion}, then save it as version ${newestVersion + 1}.`,
    });
  });
}

/** A profile may be meant for any definition of the studio, so each role must be one of theirs. */
async function assertRoles(profile: EngineProfile): Promise<void> {
  const definitions = await Promise.all((await listEntries('definition')).map(({ id }) => newest('definition', id)));
  const known = new Set(['root', ...definitions.flatMap(({ roles }) => roles.map(({ id }) => id))]);
  const named = [
    ...profile.requiredRoles.map((role, at) => [`requiredRoles.${at}`, role] as const),
    ...(['helpers', 'attachments'] as const).flatMap((list) =>
      profile[list].flatMap(({ parent, place }, at) => [
        [`${list}.${at}.parent`, parent] as const,
        [`${list}.${at}.place`, place.role] as const,
        ...(place.kind === 'midway' ? [[`${list}.${at}.place`, place.other] as const] : []),
      ]),
    ),
    ...(profile.skeleton?.bones ?? []).flatMap(({ role }, at) =>
      role === null ? [] : [[`skeleton.bones.${at}.role`, role] as const],
    ),
  ];
  const strangers = named.filter(([, role]) => !known.has(role));
  if (strangers.length === 0) return;
  const shown = strangers.slice(0, 5).map(([, role]) => `"${role.slice(0, 60)}"`);
  const more = strangers.length > shown.length ? ` and ${strangers.length - shown.length} more` : '';
  throw new YarvoError({
    code: 'unknown-role',
    message: `No definition of the studio has the role${strangers.length === 1 ? '' : 's'} ${shown.join(', ')}${more}.`,
    place: strangers
      .slice(0, 5)
      .map(([path]) => path)
      .join(', '),
    remedy: `Name roles of ${definitions.map(({ label }) => label).join(' or ')}.`,
  });
}
