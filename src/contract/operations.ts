import { z } from 'zod';
import { ANSWERS } from './answers';
import { BoardQuery, CarryManyBody, MotionOutBody, OutParams } from './board';
import { KeptQuery, MotionChangeBody, MotionParams, ShelveBody } from './motions';
import * as requests from './requests';

/** What a call takes and gives. `files`: the body is a file, or a form of files; an answer may be a media type. */
export interface Operation {
  readonly method: 'get' | 'post' | 'delete';
  /** Path with parameters in braces, as OpenAPI writes them. */
  readonly path: string;
  readonly summary: string;
  readonly params?: z.ZodObject;
  readonly query?: z.ZodObject;
  readonly body?: z.ZodType | 'files';
  readonly status: 200 | 201 | 202 | 204;
  readonly answer: z.ZodType | string | null;
  /** Failures worth naming beside 400, 403, 404, 500 and 503. */
  readonly failures?: Readonly<Record<number, string>>;
}

const change = {
  method: 'post',
  params: requests.CharacterParams,
  status: 200,
  answer: ANSWERS.fit,
  failures: {
    409: "The fit is at another revision by now, which comes along; or the step is somebody else's.",
    422: 'Nothing to do, or not possible; nothing was changed.',
  },
} as const;

/** Every call there is; routes, the client and docs/openapi.json are made of these. */
export const OPERATIONS = {
  readRoster: {
    method: 'get',
    path: '/api/characters',
    summary: 'A page of the characters, newest change first; parts of others are not among them.',
    query: requests.RosterQuery,
    status: 200,
    answer: ANSWERS.roster,
  },
  addFiles: {
    method: 'post',
    path: '/api/characters',
    summary:
      'Keeps files and queues their intake, which makes one character of each model; the result of the job is its outcome. The body is a file, or a form with parts named "file" whose file names are paths.',
    query: requests.UploadQuery,
    body: 'files',
    status: 202,
    answer: ANSWERS.arrival,
    failures: { 409: 'Cancelled; nothing was kept.', 413: 'Larger than 256 MB.', 507: 'The disk is full.' },
  },
  readCharacter: {
    method: 'get',
    path: '/api/characters/{characterId}',
    summary: 'A character with rig, match, fit, findings and handoffs.',
    params: requests.CharacterParams,
    query: requests.FitQuery,
    status: 200,
    answer: ANSWERS.character,
  },
  deleteCharacter: {
    method: 'delete',
    path: '/api/characters/{characterId}',
    summary: 'Deletes a character with its files, readings and fits; its packs stay unless packs=delete.',
    params: requests.CharacterParams,
    query: requests.DeleteQuery,
    status: 200,
    answer: ANSWERS.removed,
  },
  countRemains: {
    method: 'get',
    path: '/api/characters/{characterId}/remains',
    summary: 'What deleting a character would remove, counted.',
    params: requests.CharacterParams,
    status: 200,
    answer: ANSWERS.remains,
  },
  readOriginal: {
    method: 'get',
    path: '/api/characters/{characterId}/file',
    summary: 'The original file, byte for byte.',
    params: requests.CharacterParams,
    status: 200,
    answer: 'application/octet-stream',
  },
  readModel: {
    method: 'get',
    path: '/api/characters/{characterId}/model/{hash}',
    summary: 'A canonical GLB of the character, by its content.',
    params: requests.ModelParams,
    status: 200,
    answer: 'model/gltf-binary',
  },
  readGeometry: {
    method: 'get',
    path: '/api/characters/{characterId}/geometry',
    summary: 'Geometry of the reading that the fit stands on, as a binary block (docs/formats.md).',
    params: requests.CharacterParams,
    query: requests.FitQuery,
    status: 200,
    answer: 'application/octet-stream',
  },
  readTracks: {
    method: 'get',
    path: '/api/characters/{characterId}/tracks',
    summary: 'Motion tracks of the reading that the fit stands on, as a binary block (docs/formats.md).',
    params: requests.CharacterParams,
    query: requests.FitQuery,
    status: 200,
    answer: 'application/octet-stream',
  },
  readPortrait: {
    method: 'get',
    path: '/api/portraits/{hash}',
    summary: 'The drawing that a row of the roster names, as SVG; its figure is #figure.',
    params: requests.PortraitParams,
    status: 200,
    answer: 'image/svg+xml',
  },
  startFit: {
    method: 'post',
    path: '/api/characters/{characterId}/fits',
    summary: 'Fits a character to another definition, beside the fits it has.',
    params: requests.CharacterParams,
    body: requests.StartFitBody,
    status: 201,
    answer: ANSWERS.startedFit,
    failures: { 422: 'It has such a fit, or the library has no such definition.' },
  },
  changeFit: {
    ...change,
    path: '/api/characters/{characterId}/fit/changes',
    summary: 'One action on the fit. boneIndex counts the bones of the rig, parents first.',
    body: requests.ActionBody,
  },
  undo: {
    ...change,
    path: '/api/characters/{characterId}/fit/undo',
    summary:
      "Takes back the sender's own last step, from under later ones of others if need be; whose=anyone: the last step, whoever made it.",
    body: requests.UndoBody,
  },
  redo: {
    ...change,
    path: '/api/characters/{characterId}/fit/redo',
    summary: 'Makes the step again that was taken back last.',
    body: requests.ChangeBase,
  },
  restore: {
    ...change,
    path: '/api/characters/{characterId}/fit/restore',
    summary: 'Brings an earlier revision back as a new one.',
    body: requests.RestoreBody,
  },
  readHistory: {
    method: 'get',
    path: '/api/characters/{characterId}/fit/history',
    summary: 'Older steps of the fit than its view brings: newest first, at most 200.',
    params: requests.CharacterParams,
    query: requests.HistoryQuery,
    status: 200,
    answer: ANSWERS.history,
  },
  changeIntake: {
    ...change,
    path: '/api/characters/{characterId}/intake',
    summary: 'Changes how the files are understood. Nodes and clips are counted as the file was read.',
    body: requests.IntakeBody,
  },
  supplyTextures: {
    ...change,
    path: '/api/characters/{characterId}/textures',
    summary: 'Supplies missing textures, matched by name.',
    body: 'files',
  },
  joinParts: {
    ...change,
    path: '/api/characters/{characterId}/parts',
    summary: 'Joins other characters to this one as its parts.',
    body: requests.PartsBody,
  },
  handOff: {
    method: 'post',
    path: '/api/characters/{characterId}/handoffs',
    summary: 'Queues the next pack; a blocker or a failed read-back is the problem of the job.',
    params: requests.CharacterParams,
    query: requests.HandoffQuery,
    status: 202,
    answer: ANSWERS.job,
  },
  readPack: {
    method: 'get',
    path: '/api/characters/{characterId}/handoffs/{version}/pack',
    summary: 'The pack of a version, as it was verified.',
    params: requests.PackParams,
    status: 200,
    answer: 'application/zip',
  },
  deletePack: {
    method: 'delete',
    path: '/api/characters/{characterId}/handoffs/{version}/pack',
    summary: 'Deletes a pack whose character was deleted.',
    params: requests.PackParams,
    status: 204,
    answer: null,
  },
  archive: {
    method: 'post',
    path: '/api/archive',
    summary: 'Puts characters away, or brings them back.',
    body: requests.ArchiveBody,
    status: 200,
    answer: ANSWERS.archived,
  },
  proposeJoins: {
    method: 'post',
    path: '/api/joins',
    summary: 'Which of some characters look like parts of one. Nothing is changed.',
    body: requests.JoinsBody,
    status: 200,
    answer: ANSWERS.joins,
  },
  setProvenance: {
    method: 'post',
    path: '/api/provenance',
    summary: 'Sets source, author, licence or attribution of many characters; fields left out stay as they are.',
    body: requests.ProvenanceBody,
    status: 200,
    answer: ANSWERS.provenance,
  },
  readShelf: {
    method: 'get',
    path: '/api/motions',
    summary: 'The motions of the shelf, by name.',
    status: 200,
    answer: ANSWERS.shelf,
  },
  shelve: {
    method: 'post',
    path: '/api/motions',
    summary:
      'Puts clips of a character on the shelf (all that move where none is named), a house motion under a name, or a copy of a motion.',
    body: ShelveBody,
    status: 201,
    answer: ANSWERS.shelved,
    failures: { 422: 'The character is no humanoid, or has no such clip; nothing was changed.' },
  },
  keepMotion: {
    method: 'post',
    path: '/api/motions/kept',
    summary: 'Keeps a motion file (yarvo-motion-1) on the shelf.',
    query: KeptQuery,
    body: 'files',
    status: 201,
    answer: ANSWERS.motion,
    failures: { 413: 'Larger than 256 MB.', 422: 'It is no motion file; nothing was kept.' },
  },
  readMotionFile: {
    method: 'get',
    path: '/api/motions/{motionId}/file',
    summary: 'The file of a kept motion.',
    params: MotionParams,
    status: 200,
    answer: 'application/octet-stream',
  },
  changeMotion: {
    method: 'post',
    path: '/api/motions/{motionId}',
    summary: 'Changes what was chosen about a motion and how it is edited, or takes it off the shelf and back.',
    params: MotionParams,
    body: MotionChangeBody,
    status: 200,
    answer: ANSWERS.motion,
    failures: {
      409: 'Somebody else changed it meanwhile.',
      422: 'The file does not hold that pose, or the edit or setting cannot be.',
    },
  },
  readBoard: {
    method: 'get',
    path: '/api/board',
    summary: 'Characters by motions: which were carried, are old, failed. All humanoids where no characters are named.',
    query: BoardQuery,
    status: 200,
    answer: ANSWERS.board,
  },
  carryMany: {
    method: 'post',
    path: '/api/board',
    summary: 'Queues carrying motions (ids of the shelf, or "house-walk") to characters; cells are kept one by one.',
    body: CarryManyBody,
    status: 202,
    answer: ANSWERS.job,
  },
  writeMotionsOut: {
    method: 'post',
    path: '/api/motions/out',
    summary: 'Queues writing motions of characters as files in a zip; its result is `{ id, fileName, files, failed }`.',
    body: MotionOutBody,
    status: 202,
    answer: ANSWERS.job,
    failures: { 422: 'The template gives two clips one name, or cannot be a file name; nothing was written.' },
  },
  readMotionsOut: {
    method: 'get',
    path: '/api/motions/out/{outId}',
    summary: 'The zip of motions that were written out.',
    params: OutParams,
    status: 200,
    answer: 'application/zip',
  },
  listRenewals: {
    method: 'get',
    path: '/api/renewals',
    summary: 'Fits that a newer reader or matcher would change, with what changes.',
    status: 200,
    answer: ANSWERS.renewals,
  },
  acceptRenewals: {
    method: 'post',
    path: '/api/renewals',
    summary: 'Accepts what a newer reader or matcher changes in some fits, each as a step of its history.',
    body: requests.RenewalsBody,
    status: 200,
    answer: ANSWERS.accepted,
  },
  listJobs: {
    method: 'get',
    path: '/api/jobs',
    summary: 'Jobs, newest first, at most 500.',
    query: requests.JobsQuery,
    status: 200,
    answer: ANSWERS.jobs,
  },
  followJobs: {
    method: 'get',
    path: '/api/jobs/events',
    summary: 'Jobs as they change, as server-sent events of the type "job".',
    status: 200,
    answer: 'text/event-stream',
  },
  readJob: {
    method: 'get',
    path: '/api/jobs/{jobId}',
    summary: 'A job as it is now.',
    params: requests.JobParams,
    status: 200,
    answer: ANSWERS.job,
  },
  cancelJob: {
    method: 'delete',
    path: '/api/jobs/{jobId}',
    summary:
      'Cancels a job; null for an upload that has not come yet, which is refused when it does. One that is over stays as it is.',
    params: requests.JobParams,
    status: 200,
    answer: ANSWERS.cancelledJob,
  },
  retryJob: {
    method: 'post',
    path: '/api/jobs/{jobId}/retry',
    summary: 'Queues a failed or cancelled job again.',
    params: requests.JobParams,
    status: 200,
    answer: ANSWERS.job,
  },
  readHealth: {
    method: 'get',
    path: '/api/health',
    summary: 'Whether the database answers; while it is away, what is known of it.',
    status: 200,
    answer: ANSWERS.health,
  },
} as const satisfies Readonly<Record<string, Operation>>;
