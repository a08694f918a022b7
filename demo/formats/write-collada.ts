import { compose, invertAffine, type Mat4 } from '@/core/math/mat4';
import type { Quat } from '@/core/math/quat';
import type { Vec3 } from '@/core/math/vec3';
import type { Figure } from '../figure/write-figure';
import {
  digits,
  FRAMES_PER_SECOND,
  writtenClips,
  writtenJoints,
  writtenMesh,
  type WrittenMesh,
  type Writing,
} from './gather';

export interface ColladaWriting extends Writing {
  /** Materials of a mesh that hangs rigidly on a bone instead of being skinned. */
  readonly rigid?: { readonly name: string; readonly materials: readonly string[]; readonly bone: string };
}

/** A figure as COLLADA 1.4: joints as matrices, one skin controller, one animation clip per clip. */
export function writeCollada(figure: Figure, writing: ColladaWriting): string {
  const joints = writtenJoints(figure, writing);
  const { rigid } = writing;
  const mesh = writtenMesh(figure, writing, (material) => !rigid?.materials.includes(material));
  const carried = rigid ? writtenMesh(figure, writing, (material) => rigid.materials.includes(material)) : null;
  const carrier = rigid ? joints.findIndex((joint) => joint.name === rigid.bone) : -1;
  const local = carried && intoSpace(carried, invertAffine(joints[carrier].world) as number[]);
  const all = [...mesh.materials, ...(local?.materials ?? [])];
  const nodeText = (at: number, indent: string): string => {
    const joint = joints[at];
    const below = joints.flatMap((other, index) => (other.parent === at ? [nodeText(index, `${indent} `)] : []));
    if (at === carrier && rigid && local)
      below.push(
        `${indent} <node id="carried" name="${rigid.name}" type="NODE"><instance_geometry url="#carried-geometry">${bindMaterials(local)}</instance_geometry></node>`,
      );
    return `${indent}<node id="j${at}" sid="s${at}" name="${xml(joint.name)}" type="JOINT">\n${indent} <matrix sid="transform">${rows(compose(joint.translation, joint.rotation, [1, 1, 1]))}</matrix>\n${below.join('\n')}\n${indent}</node>`;
  };
  const clips = writtenClips(figure, joints, writing);
  return `<?xml version="1.0" encoding="utf-8"?>
<COLLADA xmlns="http://www.collada.org/2005/11/COLLADASchema" version="1.4.1">
<asset><contributor><author>Gannet &amp; Twine</author><authoring_tool>Yarvo demo cast</authoring_tool><copyright>made up for Low Tide Lanterns</copyright></contributor><created>2026-01-01T00:00:00Z</created><modified>2026-01-01T00:00:00Z</modified><unit name="unit" meter="${digits(1 / writing.unitsPerMetre)}"/><up_axis>${writing.up}_UP</up_axis></asset>
<library_effects>${all.map((name) => `<effect id="${name}-effect"><profile_COMMON><technique sid="common"><lambert><diffuse><color>${figure.materials[name].colour.map((value) => digits(value ** (1 / 2.2))).join(' ')} 1</color></diffuse></lambert></technique></profile_COMMON></effect>`).join('')}</library_effects>
<library_materials>${all.map((name) => `<material id="${name}" name="${name}"><instance_effect url="#${name}-effect"/></material>`).join('')}</library_materials>
<library_geometries>${geometry('body-geometry', figure.name, mesh)}${local && rigid ? geometry('carried-geometry', rigid.name, local) : ''}</library_geometries>
<library_controllers>${controller(
    joints.map((joint) => joint.world),
    mesh,
  )}</library_controllers>
${clips.length > 0 ? `<library_animations>${clips.map((clip, at) => animation(clip, joints, at)).join('')}</library_animations>\n<library_animation_clips>${clips.map((clip, at) => `<animation_clip id="clip${at}" name="${xml(clip.name)}" start="0" end="${digits((clip.frameCount - 1) / FRAMES_PER_SECOND)}">${[...clip.rotations.keys()].map((joint) => `<instance_animation url="#a${at}-${joint}"/>`).join('')}</animation_clip>`).join('')}</library_animation_clips>` : ''}
<library_visual_scenes><visual_scene id="scene" name="${xml(figure.name)}">
${joints.flatMap((joint, at) => (joint.parent < 0 ? [nodeText(at, ' ')] : [])).join('\n')}
 <node id="body" name="${xml(figure.name)} mesh" type="NODE"><instance_controller url="#body-skin"><skeleton>#j0</skeleton>${bindMaterials(mesh)}</instance_controller></node>
</visual_scene></library_visual_scenes>
<scene><instance_visual_scene url="#scene"/></scene>
</COLLADA>
`;
}

const xml = (text: string): string => text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('"', '&quot;');

/** COLLADA writes matrices row by row. */
const rows = (m: Mat4): string =>
  [0, 1, 2, 3].flatMap((row) => [0, 1, 2, 3].map((column) => digits(m[column * 4 + row]))).join(' ');

function intoSpace(mesh: WrittenMesh, m: Mat4): WrittenMesh {
  const at = ([x, y, z]: Vec3, w: number): Vec3 =>
    [0, 1, 2].map((row) => m[row] * x + m[4 + row] * y + m[8 + row] * z + m[12 + row] * w) as unknown as Vec3;
  return {
    ...mesh,
    positions: mesh.positions.map((point) => at(point, 1)),
    normals: mesh.normals.map((normal) => at(normal, 0)),
  };
}

const floats = (id: string, values: readonly (readonly number[])[], names: readonly string[], type = 'float'): string =>
  `<source id="${id}"><float_array id="${id}-array" count="${values.length * (values[0]?.length ?? 0)}">${values.map((value) => value.map(digits).join(' ')).join(' ')}</float_array><technique_common><accessor source="#${id}-array" count="${values.length}" stride="${values[0]?.length ?? 1}">${names.map((name) => `<param name="${name}" type="${type}"/>`).join('')}</accessor></technique_common></source>`;

function geometry(id: string, name: string, mesh: WrittenMesh): string {
  const triangles = mesh.materials.map((material, at) => {
    const own = mesh.triangles.filter((triangle) => triangle.material === at);
    return own.length === 0
      ? ''
      : `<triangles count="${own.length}" material="${material}"><input semantic="VERTEX" source="#${id}-vertices" offset="0"/><input semantic="NORMAL" source="#${id}-normals" offset="0"/><input semantic="TEXCOORD" source="#${id}-uvs" offset="0" set="0"/><p>${own.flatMap(({ corners }) => corners).join(' ')}</p></triangles>`;
  });
  return `<geometry id="${id}" name="${xml(name)}"><mesh>${floats(`${id}-positions`, mesh.positions, ['X', 'Y', 'Z'])}${floats(`${id}-normals`, mesh.normals, ['X', 'Y', 'Z'])}${floats(`${id}-uvs`, mesh.uvs, ['S', 'T'])}<vertices id="${id}-vertices"><input semantic="POSITION" source="#${id}-positions"/></vertices>${triangles.join('')}</mesh></geometry>`;
}

function controller(worlds: readonly Mat4[], mesh: WrittenMesh): string {
  const perVertex: [joint: number, weight: number][][] = mesh.positions.map(() => []);
  for (const [joint, list] of mesh.weights)
    for (const [vertex, weight] of list) perVertex[vertex].push([joint, weight]);
  const flat = perVertex.flat();
  return `<controller id="body-skin"><skin source="#body-geometry"><bind_shape_matrix>1 0 0 0 0 1 0 0 0 0 1 0 0 0 0 1</bind_shape_matrix><source id="joints"><Name_array id="joints-array" count="${worlds.length}">${worlds.map((_, at) => `s${at}`).join(' ')}</Name_array><technique_common><accessor source="#joints-array" count="${worlds.length}" stride="1"><param name="JOINT" type="name"/></accessor></technique_common></source><source id="binds"><float_array id="binds-array" count="${worlds.length * 16}">${worlds.map((world) => rows(invertAffine(world) as number[])).join(' ')}</float_array><technique_common><accessor source="#binds-array" count="${worlds.length}" stride="16"><param name="TRANSFORM" type="float4x4"/></accessor></technique_common></source>${floats(
    'weights',
    flat.map(([, weight]) => [weight]),
    ['WEIGHT'],
  )}<joints><input semantic="JOINT" source="#joints"/><input semantic="INV_BIND_MATRIX" source="#binds"/></joints><vertex_weights count="${perVertex.length}"><input semantic="JOINT" source="#joints" offset="0"/><input semantic="WEIGHT" source="#weights" offset="1"/><vcount>${perVertex.map((list) => list.length).join(' ')}</vcount><v>${flat.map(([joint], at) => `${joint} ${at}`).join(' ')}</v></vertex_weights></skin></controller>`;
}

const bindMaterials = (mesh: WrittenMesh): string =>
  `<bind_material><technique_common>${mesh.materials.map((name) => `<instance_material symbol="${name}" target="#${name}"/>`).join('')}</technique_common></bind_material>`;

function animation(
  clip: ReturnType<typeof writtenClips>[number],
  joints: ReturnType<typeof writtenJoints>,
  index: number,
): string {
  return [...clip.rotations]
    .map(([joint, rotations]) => {
      const id = `a${index}-${joint}`;
      const matrices = rotations.map((rotation: Quat) => rows(compose(joints[joint].translation, rotation, [1, 1, 1])));
      return `<animation id="${id}">${floats(
        `${id}-in`,
        rotations.map((_, frame) => [frame / FRAMES_PER_SECOND]),
        ['TIME'],
      )}<source id="${id}-out"><float_array id="${id}-out-array" count="${rotations.length * 16}">${matrices.join(' ')}</float_array><technique_common><accessor source="#${id}-out-array" count="${rotations.length}" stride="16"><param name="TRANSFORM" type="float4x4"/></accessor></technique_common></source><source id="${id}-how"><Name_array id="${id}-how-array" count="${rotations.length}">${rotations.map(() => 'LINEAR').join(' ')}</Name_array><technique_common><accessor source="#${id}-how-array" count="${rotations.length}" stride="1"><param name="INTERPOLATION" type="name"/></accessor></technique_common></source><sampler id="${id}-sampler"><input semantic="INPUT" source="#${id}-in"/><input semantic="OUTPUT" source="#${id}-out"/><input semantic="INTERPOLATION" source="#${id}-how"/></sampler><channel source="#${id}-sampler" target="j${joint}/transform"/></animation>`;
    })
    .join('');
}
