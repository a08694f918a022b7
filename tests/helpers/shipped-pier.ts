import { Quaternion, Vector3 } from 'three';
import { QUAY } from '@/core/definition/quay';
import { conjugate, fromAxisAngle, multiply, type Quat } from '@/core/math/quat';
import { writtenSkeleton } from '@/core/plan/written-skeleton';
import { EngineProfileSchema, type EngineProfile, type ShippedSkeleton } from '@/core/profile/profile';
import { TIDEWATER } from '@/core/profile/shipped';
import { checkReading } from '@/pipeline/check';
import { readGlb } from '@/pipeline/read-files';
import { readCast } from './cast-files';

type Bones = ShippedSkeleton['bones'];

/**
 * A skeleton of the studio's own: the lamplighter's tree under other names and on other axes, a tenth larger, with a bone
 * more between spine and chest, and a hook that hangs on the hips.
 */
async function pierBones(): Promise<Bones> {
  const { glb } = await readCast('lamplighter.glb');
  const { plan } = checkReading(await readGlb(glb, 'test'), { definition: QUAY, profile: TIDEWATER });
  const written = writtenSkeleton(plan) ?? [];
  const roleOf = new Map(QUAY.roles.map(({ id, exportName }) => [exportName, id]));
  const axes = new Map(written.map(({ name }, at) => [name, fromAxisAngle([0.6, 0.8, 0], at * 0.7)]));
  const axesOf = (name: string | null): Quat => (name === null ? [0, 0, 0, 1] : (axes.get(name) as Quat));
  const renamed = (name: string): string => name.replace('quay_', 'pier_');
  const nameOf = (role: string) => QUAY.roles.find(({ id }) => id === role)?.exportName as string;
  return written.flatMap(({ name, parent, translation, rotation }): Bones[number][] => {
    const undo = conjugate(axesOf(parent));
    const place = new Vector3(...translation).applyQuaternion(new Quaternion(...undo)).multiplyScalar(1.1);
    const bone: Bones[number] = {
      name: renamed(name),
      parent: parent && renamed(parent),
      translation: [place.x, place.y, place.z],
      rotation: multiply(multiply(undo, rotation), axesOf(name)),
      role: roleOf.get(name) ?? null,
    };
    if (name !== nameOf('chest')) return [bone];
    const half = place.clone().multiplyScalar(0.5).toArray() as [number, number, number];
    const plain = { rotation: [0, 0, 0, 1], role: null } as const;
    return [
      { name: 'pier_ribs', parent: renamed(nameOf('spine')), translation: half, ...plain },
      { ...bone, parent: 'pier_ribs', translation: half },
      { name: 'pier_hook', parent: renamed('quay_hips'), translation: [0.1, 0.2, -0.1], ...plain },
    ];
  });
}

/** Tidewater with that skeleton. */
export const pierProfile = async (): Promise<EngineProfile & { readonly skeleton: ShippedSkeleton }> =>
  EngineProfileSchema.parse({
    ...TIDEWATER,
    skeleton: { label: 'Pier', bones: await pierBones() },
  }) as EngineProfile & { readonly skeleton: ShippedSkeleton };
