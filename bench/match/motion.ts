import { existsSync } from 'node:fs';
import { QUAY } from '@/core/definition/quay';
import { matchBones } from '@/core/match/match-bones';
import type { MotionTracks } from '@/core/clips/motion-tracks';
import { spanOf } from '@/core/clips/sample-tracks';
import { ClipPlayer } from '@/core/rig/clip-player';
import type { Rig } from '@/core/rig/rig';
import { readSource, motionOf } from '@/pipeline/read-files';
import { BIPEDS } from '../../tests/third-party/bipeds';
import { MODELS, sourceOf } from '../../tests/third-party/catalogue';
import { tracksOf, walkOf } from './made-walk';
import { acceptedBones, readRecords, rigOf, withoutTree, withoutWords } from './records';

/** How nameless rigs were read with their clips and without. */
export interface MotionRow {
  readonly group: string;
  rigs: number;
  roles: number;
  readonly without: Answers;
  readonly with: Answers;
}
interface Answers {
  right: number;
  wrongSure: number;
}

/** A nameless rig with a clip and the bones that each role may be. */
interface Subject {
  readonly rig: Rig;
  readonly motion: MotionTracks;
  readonly roles: ReadonlyMap<string, readonly number[]>;
}

/**
 * Nameless rigs with clips: the records of the training part with a walk that their labels drive, and the two-legged BVH
 * files of assimp-testmodels with their own motion; as they are and with their trees taken away. Empty where neither is
 * there.
 */
export async function runMotion(): Promise<MotionRow[]> {
  const rows: MotionRow[] = [];
  for (const [source, subjects] of [
    ['training part', trainingSubjects()],
    ['assimp-testmodels', await foreignSubjects()],
  ] as const) {
    if (subjects.length === 0) continue;
    rows.push(measure(`${source}, own tree`, subjects), measure(`${source}, without a tree`, subjects.map(flattened)));
  }
  return rows;
}

function trainingSubjects(): Subject[] {
  return readRecords()
    .filter(({ kind }) => kind === 'humanoid')
    .map((record) => {
      const { rig, origin } = rigOf(record);
      return { rig: withoutWords(rig), motion: walkOf(record, rig, origin), roles: acceptedBones(record, origin) };
    });
}

async function foreignSubjects(): Promise<Subject[]> {
  if (!existsSync(MODELS)) return [];
  const subjects: Subject[] = [];
  for (const biped of BIPEDS.filter(({ file }) => file.endsWith('.bvh'))) {
    const source = sourceOf(biped.file);
    const reading = await readSource(source, [source]);
    const motion = motionOf(reading);
    if (!motion) continue;
    const boneOf = new Map(reading.rig.bones.map(({ nodeIndex, index }) => [nodeIndex, index]));
    const roles = Object.entries(biped.roles).map(([role, node]) => [role, [boneOf.get(node) ?? -1]] as const);
    subjects.push({ rig: withoutWords(reading.rig), motion, roles: new Map(roles) });
  }
  return subjects;
}

const SAMPLES = 40;

function flattened({ rig, motion, roles }: Subject): Subject {
  const player = new ClipPlayer(rig);
  const { start, end } = spanOf(motion[0]);
  const worlds = Array.from({ length: SAMPLES }, (_, at) =>
    player.worldsAt(motion[0], start + ((end - start) * at) / (SAMPLES - 1)),
  );
  const loose = withoutTree(rig);
  return { rig: loose, motion: tracksOf(loose, worlds), roles };
}

function measure(group: string, subjects: readonly Subject[]): MotionRow {
  const row: MotionRow = {
    group,
    rigs: 0,
    roles: 0,
    without: { right: 0, wrongSure: 0 },
    with: { right: 0, wrongSure: 0 },
  };
  for (const { rig, motion, roles } of subjects) {
    row.rigs++;
    row.roles += roles.size;
    for (const [answers, given] of [
      [row.without, null],
      [row.with, motion],
    ] as const) {
      const { assignments } = matchBones(rig, QUAY, { motion: given });
      for (const [role, bones] of roles) {
        const answer = assignments[role];
        if (answer && bones.includes(answer.boneIndex)) answers.right++;
        else if (answer?.state === 'proposed') answers.wrongSure++;
      }
    }
  }
  return row;
}
