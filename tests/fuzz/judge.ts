import { problemOf } from '@/core/errors/yarvo-error';
import { RigSchema, type Rig } from '@/core/rig/rig';
import { onlyModel, unpackAll, writeCanonical } from '@/formats/source/open-source';
import { readSource } from '@/pipeline/read-files';
import { readGlb } from '@/pipeline/read-files';

/**
 * Reads a damaged file.
 * @param slowestMs a complaint where it takes longer: for a person at a machine they know, not for every check.
 * @returns what is wrong with how that went; null where it went as it must, `code` telling how.
 */
export async function judge(
  path: string,
  bytes: Uint8Array,
  slowestMs = Infinity,
): Promise<{ code: string; complaint: string | null }> {
  const start = performance.now();
  let code = 'read';
  let complaint: string | null = null;
  try {
    const files = unpackAll([{ path, bytes }]);
    const { rig, document } = await readSource(onlyModel(files, path), files);
    complaint = invariants(rig);
    // What is kept must be readable again.
    if (!complaint) await readGlb(await writeCanonical(document), path);
  } catch (error) {
    const problem = problemOf(error, path);
    code = problem.code;
    if (code === 'unexpected')
      complaint = `${problem.message} ${(error as Error).stack?.split('\n').slice(1, 4).join(' <- ') ?? ''}`;
    else if (!problem.place.includes('crane') || problem.remedy.length < 10)
      complaint = `${code} names no place or remedy: ${problem.place}`;
  }
  const took = performance.now() - start;
  return { code, complaint: took > slowestMs ? `it took ${Math.round(took)} ms` : complaint };
}

function invariants(rig: Rig): string | null {
  const parsed = RigSchema.safeParse(rig);
  if (!parsed.success)
    return `no sound rig: ${parsed.error.issues[0].path.join('.')} ${parsed.error.issues[0].message}`;
  for (const bone of rig.bones) {
    if (bone.parent >= bone.index) return `bone ${bone.index} comes before its parent`;
    if (
      ![...bone.restWorld, ...bone.rest.translation, ...bone.rest.rotation, ...bone.rest.scale].every(Number.isFinite)
    )
      return `bone ${bone.index} is nowhere`;
  }
  return null;
}
