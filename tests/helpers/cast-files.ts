import { readSource } from '@/pipeline/read-files';
import { writeCanonical } from '@/formats/source/open-source';
import { CAST } from '../../demo/cast/cast';

/** Members of the cast that stand on bones: file name and truth table. */
export const FIGURES = Object.entries(CAST).flatMap(([name, { truth }]) => (truth ? [[name, truth] as const] : []));
/** Those that also have a mesh, so that they can be handed off. */
export const SKINNED = Object.entries(CAST)
  .filter(([, { figure, truth }]) => figure !== null && truth !== null)
  .map(([name]) => name);

/** A cast file as the application reads it: rig and canonical GLB. */
export async function readCast(name: string) {
  const { document, rig, original } = await readSource({ path: name, bytes: await CAST[name].make() }, []);
  return { rig, glb: original ?? (await writeCanonical(document)) };
}
