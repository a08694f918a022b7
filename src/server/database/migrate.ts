import type { QueryInterface } from 'sequelize';
import { SequelizeStorage, Umzug } from 'umzug';
import { database } from './connection';
import * as firstTables from './migrations/0001-first-tables';
import * as interpretations from './migrations/0002-interpretations';
import * as nothingLost from './migrations/0003-nothing-lost';
import * as ownNames from './migrations/0004-own-names';
import * as roster from './migrations/0005-roster';
import * as readings from './migrations/0006-readings-and-matches';
import * as jobs from './migrations/0007-jobs-and-uploads';
import * as portraits from './migrations/0008-portraits-by-hash';
import * as bends from './migrations/0009-bends-and-tolerances';
import * as motions from './migrations/0010-motions';
import * as kindsOfMotion from './migrations/0011-kinds-of-motion';
import * as board from './migrations/0012-board';
import * as madeOnce from './migrations/0013-made-once';

const MIGRATIONS = {
  '0001-first-tables': firstTables,
  '0002-interpretations': interpretations,
  '0003-nothing-lost': nothingLost,
  '0004-own-names': ownNames,
  '0005-roster': roster,
  '0006-readings-and-matches': readings,
  '0007-jobs-and-uploads': jobs,
  '0008-portraits-by-hash': portraits,
  '0009-bends-and-tolerances': bends,
  '0010-motions': motions,
  '0011-kinds-of-motion': kindsOfMotion,
  '0012-board': board,
  '0013-made-once': madeOnce,
};

/** Brings the database to the newest shape, without what ships in the library; returns the names of the migrations that ran. */
export async function migrate(): Promise<string[]> {
  const umzug = new Umzug({
    migrations: Object.entries(MIGRATIONS).map(([name, { up, down }]) => ({
      name,
      up: ({ context }: { context: QueryInterface }) => up(context),
      down: ({ context }: { context: QueryInterface }) => down(context),
    })),
    context: database().getQueryInterface(),
    storage: new SequelizeStorage({ sequelize: database() }),
    logger: undefined,
  });
  return (await umzug.up()).map((migration) => migration.name);
}
