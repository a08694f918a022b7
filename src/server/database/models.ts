import { DataTypes, type Model, type ModelStatic, type Sequelize } from 'sequelize';
import { database } from './connection';

interface BlobRow {
  hash: string;
  sizeBytes: number;
  chunkCount: number;
  createdAt: Date;
}
interface BlobChunkRow {
  hash: string;
  sequence: number;
  content: Buffer;
}
interface CharacterRow {
  id: string;
  name: string;
  fileName: string;
  blobHash: string;
  mainPath: string;
  joinedInto: string | null;
  state: string;
  kind: string;
  bones: number;
  isHumanoid: boolean;
  portrait: string;
  createdBy: string;
  createdAt: Date;
  /** Set while the character is put away. */
  archivedAt: Date | null;
  /** The upload it came with; null for one whose files stand in rows of its own. */
  uploadId: string | null;
  /** It was joined into another one, whose decisions name it now. */
  isPart: boolean;
  /** Names its skeleton; null for one that was kept before this was written down. */
  skeleton: string | null;
}
interface SourceFileRow {
  characterId: string;
  path: string;
  blobHash: string;
  purpose: string;
  createdBy: string;
  createdAt: Date;
}
export interface ReadingRow {
  characterId: string;
  decisionsKey: string;
  readerVersion: number;
  /** Names files, decisions and reader, whatever the character; null for one made before this was written down. */
  contentKey: string | null;
  glbHash: string;
  /** Null for one made before geometry was kept. */
  geometryHash: string | null;
  tracksHash: string | null;
  rig: string;
  sheet: string;
  origins: string;
  createdAt: Date;
}
export interface MatchRow {
  characterId: string;
  decisionsKey: string;
  readerVersion: number;
  definitionId: string;
  definitionVersion: number;
  dialect: string;
  matcherVersion: number;
  firstPass: string;
  portrait: string;
  createdAt: Date;
}
interface LibraryRow {
  kind: string;
  id: string;
  version: number;
  label: string;
  body: string;
  createdBy: string;
  createdAt: Date;
}
interface UploadRow {
  id: string;
  author: string;
  createdAt: Date;
}
interface UploadFileRow {
  uploadId: string;
  path: string;
  blobHash: string;
}
export interface JobRow {
  id: string;
  kind: string;
  subject: string;
  label: string;
  state: string;
  progress: number;
  stage: string;
  attempts: number;
  priority: number;
  /** How often it has let others go first. */
  turn: number;
  author: string;
  payload: string;
  result: string | null;
  problem: string | null;
  leaseOwner: string | null;
  leaseUntil: Date | null;
  isCancelled: boolean;
  createdAt: Date;
  updatedAt: Date;
  /** When the sender was told of it; null where Yarvo ended before it could. */
  answeredAt: Date | null;
}
interface RenewalRow {
  fitId: string;
  revision: number;
  basis: string;
  changes: string;
  createdAt: Date;
}
interface FitRow {
  id: string;
  characterId: string;
  definitionId: string;
  revision: number;
  doubts: number;
  blockers: number;
  countedBy: string;
  /** Names what of it a carried motion hangs on; null until it is asked for. */
  carryStamp: string | null;
  canCarry: boolean;
  updatedAt: Date;
}
interface FitChangeRow {
  fitId: string;
  revision: number;
  kind: string;
  description: string;
  action: string | null;
  state: string;
  author: string;
  changeId: string | null;
  createdAt: Date;
}
interface HandoffRow {
  id: string;
  characterId: string;
  characterName: string;
  version: number;
  fileName: string;
  blobHash: string;
  manifest: string;
  author: string;
  createdAt: Date;
}

export interface MotionRow {
  id: string;
  name: string;
  kind: 'clip' | 'house' | 'kept';
  /** What only clips have. */
  characterId: string | null;
  clipName: string | null;
  clipIndex: number | null;
  /** The character whose fit counts: the first one of the same skeleton. */
  fitCharacterId: string | null;
  signature: string | null;
  /** Entry and settings of a house motion, JSON. */
  house: string | null;
  /** Content of a kept motion, and what it says of its length; null until it is asked for. */
  blobHash: string | null;
  frameCount: number | null;
  clipRate: number | null;
  /** JSON; null for none. */
  edits: string | null;
  /** A clip's own motion is found again when the clip is put on the shelf anew; its copies are not. */
  isCopy: boolean;
  /** Character and clip, so that none of these stands there twice; null for copies and other kinds. */
  clipKey: string | null;
  framesPerSecond: number | null;
  travel: string;
  contacts: string | null;
  createdBy: string;
  createdAt: Date;
  removedAt: Date | null;
  revision: number;
}

interface CarriedRow {
  characterId: string;
  motionKey: string;
  stamp: string;
  result: string;
  /** What boards are sorted and counted by; told again in the result. */
  harm: number;
  isFailed: boolean;
  author: string;
  carriedAt: Date;
}

/** What a call made that named itself. */
interface MadeCallRow {
  id: string;
  answer: string;
  createdAt: Date;
}

interface SelectionRow {
  id: string;
  /** JSON. */
  characterIds: string;
  usedAt: Date;
}

interface MotionOutRow {
  id: string;
  fileName: string;
  blobHash: string;
  manifest: string;
  author: string;
  createdAt: Date;
}

interface MotionNameRow {
  nameHash: string;
  version: number;
}

type Table<Row extends object> = ModelStatic<Model<Row, Row> & Row>;

export interface Models {
  readonly Blob: Table<BlobRow>;
  readonly BlobChunk: Table<BlobChunkRow>;
  readonly Character: Table<CharacterRow>;
  readonly SourceFile: Table<SourceFileRow>;
  readonly Reading: Table<ReadingRow>;
  readonly Match: Table<MatchRow>;
  readonly Library: Table<LibraryRow>;
  readonly Renewal: Table<RenewalRow>;
  readonly Upload: Table<UploadRow>;
  readonly UploadFile: Table<UploadFileRow>;
  readonly Job: Table<JobRow>;
  readonly Fit: Table<FitRow>;
  readonly FitChange: Table<FitChangeRow>;
  readonly Handoff: Table<HandoffRow>;
  readonly Motion: Table<MotionRow>;
  readonly Carried: Table<CarriedRow>;
  readonly MadeCall: Table<MadeCallRow>;
  readonly Selection: Table<SelectionRow>;
  readonly MotionOut: Table<MotionOutRow>;
  readonly MotionName: Table<MotionNameRow>;
}

const cache = new WeakMap<Sequelize, Models>();
// Each column needs an object of its own: Sequelize writes the column's name into it.
const string = () => ({ type: DataTypes.STRING, allowNull: false });
const integer = () => ({ type: DataTypes.INTEGER, allowNull: false });
const text = () => ({ type: DataTypes.TEXT, allowNull: false });
const dateOrNull = () => ({ type: DataTypes.DATE(3), allowNull: true });
const date = () => ({ type: DataTypes.DATE(3), allowNull: false });
const integerKey = () => ({ type: DataTypes.INTEGER, primaryKey: true });
const key = () => ({ type: DataTypes.STRING, primaryKey: true });

/** Tables as migrations made them; nothing is synchronised from here. */
export function models(sequelize: Sequelize = database()): Models {
  const known = cache.get(sequelize);
  if (known) return known;
  const define = <Row extends object>(name: string, tableName: string, columns: Record<string, object>): Table<Row> =>
    sequelize.define(name, columns as never, {
      tableName,
      timestamps: false,
      underscored: true,
    }) as unknown as Table<Row>;
  const made: Models = {
    Blob: define('Blob', 'blobs', { hash: key(), sizeBytes: integer(), chunkCount: integer(), createdAt: date() }),
    BlobChunk: define('BlobChunk', 'blob_chunks', {
      hash: key(),
      sequence: { type: DataTypes.INTEGER, primaryKey: true },
      content: { type: DataTypes.BLOB, allowNull: false },
    }),
    Character: define('Character', 'characters', {
      id: key(),
      name: string(),
      fileName: string(),
      blobHash: string(),
      mainPath: string(),
      joinedInto: { type: DataTypes.STRING, allowNull: true },
      state: string(),
      kind: string(),
      bones: integer(),
      isHumanoid: { type: DataTypes.BOOLEAN, allowNull: false },
      portrait: text(),
      createdBy: string(),
      createdAt: date(),
      archivedAt: dateOrNull(),
      uploadId: { type: DataTypes.STRING, allowNull: true },
      isPart: { type: DataTypes.BOOLEAN, allowNull: false },
      skeleton: { type: DataTypes.STRING, allowNull: true },
    }),
    SourceFile: define('SourceFile', 'source_files', {
      characterId: key(),
      path: { type: DataTypes.STRING, primaryKey: true },
      blobHash: string(),
      purpose: string(),
      createdBy: string(),
      createdAt: date(),
    }),
    Reading: define('Reading', 'readings', {
      characterId: key(),
      decisionsKey: key(),
      readerVersion: integerKey(),
      contentKey: { type: DataTypes.STRING, allowNull: true },
      glbHash: string(),
      geometryHash: { type: DataTypes.STRING, allowNull: true },
      tracksHash: { type: DataTypes.STRING, allowNull: true },
      rig: text(),
      sheet: text(),
      origins: text(),
      createdAt: date(),
    }),
    Match: define('Match', 'matches', {
      characterId: key(),
      decisionsKey: key(),
      readerVersion: integerKey(),
      definitionId: key(),
      definitionVersion: integerKey(),
      dialect: key(),
      matcherVersion: integerKey(),
      firstPass: text(),
      portrait: text(),
      createdAt: date(),
    }),
    Library: define('Library', 'library', {
      kind: key(),
      id: key(),
      version: integerKey(),
      label: string(),
      body: text(),
      createdBy: string(),
      createdAt: date(),
    }),
    Upload: define('Upload', 'uploads', { id: key(), author: string(), createdAt: date() }),
    UploadFile: define('UploadFile', 'upload_files', { uploadId: key(), path: key(), blobHash: string() }),
    Job: define('Job', 'jobs', {
      id: key(),
      kind: string(),
      subject: string(),
      label: string(),
      state: string(),
      progress: { type: DataTypes.FLOAT, allowNull: false },
      stage: string(),
      attempts: integer(),
      priority: integer(),
      turn: integer(),
      author: string(),
      payload: text(),
      result: { type: DataTypes.TEXT, allowNull: true },
      problem: { type: DataTypes.TEXT, allowNull: true },
      leaseOwner: { type: DataTypes.STRING, allowNull: true },
      leaseUntil: dateOrNull(),
      isCancelled: { type: DataTypes.BOOLEAN, allowNull: false },
      createdAt: date(),
      updatedAt: date(),
      answeredAt: dateOrNull(),
    }),
    Renewal: define('Renewal', 'renewals', {
      fitId: key(),
      revision: integer(),
      basis: string(),
      changes: text(),
      createdAt: date(),
    }),
    Fit: define('Fit', 'fits', {
      id: key(),
      characterId: string(),
      definitionId: string(),
      revision: integer(),
      doubts: integer(),
      blockers: integer(),
      countedBy: string(),
      carryStamp: { type: DataTypes.STRING, allowNull: true },
      canCarry: { type: DataTypes.BOOLEAN, allowNull: false },
      updatedAt: date(),
    }),
    FitChange: define('FitChange', 'fit_changes', {
      fitId: key(),
      revision: { type: DataTypes.INTEGER, primaryKey: true },
      kind: string(),
      description: string(),
      action: { type: DataTypes.TEXT, allowNull: true },
      state: text(),
      author: string(),
      changeId: { type: DataTypes.STRING, allowNull: true },
      createdAt: date(),
    }),
    Handoff: define('Handoff', 'handoffs', {
      id: key(),
      characterId: string(),
      characterName: string(),
      version: integer(),
      fileName: string(),
      blobHash: string(),
      manifest: text(),
      author: string(),
      createdAt: date(),
    }),
    Motion: define('Motion', 'motions', {
      id: key(),
      name: string(),
      kind: string(),
      characterId: { type: DataTypes.STRING, allowNull: true },
      clipName: { type: DataTypes.STRING, allowNull: true },
      clipIndex: { type: DataTypes.INTEGER, allowNull: true },
      fitCharacterId: { type: DataTypes.STRING, allowNull: true },
      signature: { type: DataTypes.STRING, allowNull: true },
      house: { type: DataTypes.TEXT, allowNull: true },
      blobHash: { type: DataTypes.STRING, allowNull: true },
      frameCount: { type: DataTypes.INTEGER, allowNull: true },
      clipRate: { type: DataTypes.DOUBLE, allowNull: true },
      edits: { type: DataTypes.TEXT, allowNull: true },
      isCopy: { type: DataTypes.BOOLEAN, allowNull: false },
      clipKey: { type: DataTypes.STRING, allowNull: true },
      framesPerSecond: { type: DataTypes.DOUBLE, allowNull: true },
      travel: text(),
      contacts: { type: DataTypes.TEXT, allowNull: true },
      createdBy: string(),
      createdAt: date(),
      removedAt: dateOrNull(),
      revision: integer(),
    }),
    Carried: define('Carried', 'carried', {
      characterId: key(),
      motionKey: key(),
      stamp: string(),
      result: text(),
      harm: { type: DataTypes.DOUBLE, allowNull: false },
      isFailed: { type: DataTypes.BOOLEAN, allowNull: false },
      author: string(),
      carriedAt: date(),
    }),
    MadeCall: define('MadeCall', 'made_calls', { id: key(), answer: text(), createdAt: date() }),
    Selection: define('Selection', 'selections', { id: key(), characterIds: text(), usedAt: date() }),
    MotionOut: define('MotionOut', 'motion_outs', {
      id: key(),
      fileName: string(),
      blobHash: string(),
      manifest: text(),
      author: string(),
      createdAt: date(),
    }),
    MotionName: define('MotionName', 'motion_names', { nameHash: key(), version: integer() }),
  };
  cache.set(sequelize, made);
  return made;
}
