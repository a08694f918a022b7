import { DefinitionSchema, type Definition } from '@/core/definition/definition';
import { DialectDataSchema, type DialectData } from '@/core/dialect/dialect-data';
import { KeptProfileSchema, type EngineProfile } from '@/core/profile/profile';
import { YarvoError } from '@/core/errors/yarvo-error';
import { LRUCache } from 'lru-cache';
import { QueryTypes, type Transaction } from 'sequelize';
import { database } from '../database/connection';
import { models } from '../database/models';
import { processWide } from '../settings/process-wide';

interface Kinds {
  readonly definition: Definition;
  readonly profile: EngineProfile;
  readonly dialect: DialectData;
}
export type LibraryKind = keyof Kinds;

const SCHEMAS = { definition: DefinitionSchema, profile: KeptProfileSchema, dialect: DialectDataSchema } as const;

const MOST_CACHED_CHARACTERS = 16 * 1024 * 1024;

/** A version never changes once it is kept, so what was read stays good. */
const known = processWide(
  'library',
  () => new LRUCache<string, Kinds[LibraryKind]>({ maxSize: MOST_CACHED_CHARACTERS }),
);

/** Newest versions, as far as this process has asked; one web server works on a database. */
const versions = processWide('library versions', () => new Map<string, number>());

const parse = <Kind extends LibraryKind>(kind: Kind, body: string): Kinds[Kind] =>
  SCHEMAS[kind].parse(JSON.parse(body)) as Kinds[Kind];

/** Newest version of an entry. @throws {YarvoError} `not-in-library` */
export async function newest<Kind extends LibraryKind>(kind: Kind, id: string): Promise<Kinds[Kind]> {
  const key = `${kind} ${id}`;
  const version =
    versions.get(key) ?? ((await models().Library.max('version', { where: { kind, id } })) as number | null);
  if (!version) {
    throw new YarvoError({
      code: 'not-in-library',
      message: `There is no ${kind} "${id}".`,
      place: kind,
      remedy: `Name one that the studio's library has.`,
    });
  }
  versions.set(key, Number(version));
  return entry(kind, id, Number(version));
}

/**
 * A version of an entry; the newest where the library does not have that one: fits may be older than the library.
 * @throws {YarvoError} `not-in-library`
 */
export async function entry<Kind extends LibraryKind>(kind: Kind, id: string, version: number): Promise<Kinds[Kind]> {
  const key = `${kind} ${id}@${version}`;
  const found = known.get(key);
  if (found) return found as Kinds[Kind];
  const row = await models().Library.findOne({ where: { kind, id, version } });
  if (!row) return newest(kind, id);
  const value = parse(kind, row.body);
  known.set(key, value, { size: row.body.length });
  return value;
}

/** Ids and labels of what the library has, each in its newest version, by label. */
export async function listEntries(kind: LibraryKind): Promise<{ readonly id: string; readonly label: string }[]> {
  const rows = await models().Library.findAll({
    where: { kind },
    attributes: ['id', 'label', 'version'],
    order: [['version', 'ASC']],
  });
  const newestOf = new Map(rows.map(({ id, label }) => [id, { id, label }]));
  return [...newestOf.values()].sort((a, b) => a.label.localeCompare(b.label, 'en'));
}

/** Keeps a version; one that is kept already stays as it is. @returns whether it was new. */
export async function keep<Kind extends LibraryKind>(
  kind: Kind,
  value: Kinds[Kind],
  author: string,
  transaction?: Transaction,
): Promise<boolean> {
  const { id, version, label } = value;
  // The key of the table is kind, id and version: of several senders one writes, and the others wait to see that.
  const [, insertedCount] = await database().query(
    `INSERT IGNORE INTO library (kind, id, version, label, body, created_by, created_at)
     VALUES (:kind, :id, :version, :label, :body, :author, :now)`,
    {
      replacements: { kind, id, version, label, body: JSON.stringify(value), author, now: new Date() },
      type: QueryTypes.INSERT,
      transaction,
    },
  );
  // Only now, and after a commit: who asked in between would have remembered the version before.
  const forget = () => void versions.delete(`${kind} ${id}`);
  if (transaction) transaction.afterCommit(forget);
  else forget();
  return insertedCount !== 0;
}
