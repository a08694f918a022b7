import {
  Document,
  type Accessor,
  type Buffer,
  type Material,
  type Node,
  type Primitive,
  type Skin,
  type Texture,
} from '@gltf-transform/core';
import { KHRLightsPunctual } from '@gltf-transform/extensions';
import { YarvoError } from '@/core/errors/yarvo-error';
import { writeFacts } from '@/document/facts';
import { imageType } from '@/core/rig/image-facts';
import type { DraftMesh, DraftPart, DraftSkin, SceneDraft } from './scene-draft';

/**
 * The canonical document of a draft: file space, nothing normalised. Node order is kept, so a draft's node index is the
 * document's.
 * @throws {YarvoError} `cyclic-nodes` where a node is its own ancestor.
 */
export function buildDocument(draft: SceneDraft, place: string): Document {
  assertTree(draft, place);
  const document = new Document();
  const buffer = document.createBuffer();
  const scene = document.createScene();
  document.getRoot().setDefaultScene(scene);
  const nodes = draft.nodes.map((from) =>
    document
      .createNode(from.name)
      .setTranslation([...from.rest.translation])
      .setRotation([...from.rest.rotation])
      .setScale([...from.rest.scale]),
  );
  draft.nodes.forEach(({ parent, kind }, index) => {
    if (parent >= 0) nodes[parent].addChild(nodes[index]);
    else scene.addChild(nodes[index]);
    if (kind === 'camera')
      nodes[index].setCamera(document.createCamera().setType('perspective').setYFov(0.8).setZNear(0.1));
    if (kind === 'light')
      nodes[index].setExtension(
        'KHR_lights_punctual',
        document.createExtension(KHRLightsPunctual).createLight().setType('point'),
      );
  });
  const textures = draft.textures.map(({ name, image }) =>
    image
      ? document
          .createTexture(name)
          .setImage(image as Uint8Array<ArrayBuffer>)
          .setMimeType(imageType(image) ?? 'image/png')
      : null,
  );
  const materials = draft.materials.map((from) => {
    const material = document
      .createMaterial(from.name)
      .setBaseColorFactor([...from.colour])
      .setMetallicFactor(0)
      .setRoughnessFactor(0.9)
      .setDoubleSided(from.isDoubleSided);
    if (from.colour[3] < 1) material.setAlphaMode('BLEND');
    return material
      .setBaseColorTexture(textureAt(textures, from.colourTexture))
      .setNormalTexture(textureAt(textures, from.normalTexture))
      .setEmissiveTexture(textureAt(textures, from.emissiveTexture));
  });
  const builder = { document, buffer, nodes, materials };
  const skins = new Map<DraftSkin, Skin>();
  for (const mesh of draft.meshes) addMesh(builder, mesh, skins);
  for (const clip of draft.clips) addClip(builder, clip);
  writeFacts(document, {
    ...draft.facts,
    jointNodes: draft.nodes.flatMap((node, index) => (node.kind === 'joint' ? [index] : [])),
  });
  document.getRoot().getAsset().generator = draft.facts.generator;
  return document;
}

interface Builder {
  readonly document: Document;
  readonly buffer: Buffer;
  readonly nodes: readonly Node[];
  readonly materials: readonly Material[];
}

const textureAt = (textures: readonly (Texture | null)[], index: number): Texture | null => textures[index] ?? null;

function assertTree({ nodes }: SceneDraft, place: string): void {
  const state = new Uint8Array(nodes.length);
  for (let start = 0; start < nodes.length; start++) {
    const path: number[] = [];
    for (let at = start; at >= 0 && state[at] !== 2; at = nodes[at].parent) {
      if (state[at] === 1)
        throw new YarvoError({
          code: 'cyclic-nodes',
          message: `The node "${nodes[at].name}" is its own ancestor.`,
          place: `${place}, node ${at}`,
          remedy: 'Export the file again; its tree is damaged.',
        });
      state[at] = 1;
      path.push(at);
    }
    for (const at of path) state[at] = 2;
  }
}

function accessor(
  { document, buffer }: Builder,
  type: 'SCALAR' | 'VEC2' | 'VEC3' | 'VEC4' | 'MAT4',
  array: Float32Array | Uint32Array | Uint16Array,
): Accessor {
  return document
    .createAccessor()
    .setType(type)
    .setArray(array as Float32Array<ArrayBuffer>)
    .setBuffer(buffer);
}

function addMesh(builder: Builder, draft: DraftMesh, skins: Map<DraftSkin, Skin>): void {
  const parts = draft.parts.filter((part) => part.indices.length > 0);
  if (parts.length === 0) return;
  const mesh = builder.document.createMesh(draft.name);
  for (const part of parts) mesh.addPrimitive(primitiveOf(builder, part, draft.morphNames));
  if (draft.morphNames.length > 0)
    mesh.setExtras({ targetNames: [...draft.morphNames] }).setWeights(draft.morphNames.map(() => 0));
  const node = builder.nodes[draft.node];
  // A node carries one mesh; a second one of the same file node gets a node of its own below it.
  const carrier = node.getMesh() ? builder.document.createNode(draft.name) : node;
  if (carrier !== node) node.addChild(carrier);
  carrier.setMesh(mesh);
  if (!draft.skin) return;
  const skin = skins.get(draft.skin) ?? builder.document.createSkin(draft.name);
  if (!skins.has(draft.skin)) {
    for (const joint of draft.skin.joints) skin.addJoint(builder.nodes[joint]);
    skin.setInverseBindMatrices(accessor(builder, 'MAT4', draft.skin.inverseBinds));
    skins.set(draft.skin, skin);
  }
  carrier.setSkin(skin);
}

function primitiveOf(builder: Builder, part: DraftPart, morphNames: readonly string[]): Primitive {
  const primitive = builder.document
    .createPrimitive()
    .setAttribute('POSITION', accessor(builder, 'VEC3', part.positions))
    .setIndices(accessor(builder, 'SCALAR', part.indices));
  if (part.normals) primitive.setAttribute('NORMAL', accessor(builder, 'VEC3', part.normals));
  if (part.uvs) primitive.setAttribute('TEXCOORD_0', accessor(builder, 'VEC2', part.uvs));
  if (part.colours) primitive.setAttribute('COLOR_0', accessor(builder, 'VEC4', part.colours));
  if (part.material >= 0) primitive.setMaterial(builder.materials[part.material]);
  if (part.joints && part.weights) addInfluences(builder, primitive, part, part.joints, part.weights);
  part.morphs.forEach((deltas, at) =>
    primitive.addTarget(
      builder.document
        .createPrimitiveTarget(morphNames[at] ?? '')
        .setAttribute('POSITION', accessor(builder, 'VEC3', deltas)),
    ),
  );
  return primitive;
}

/** Influences in sets of four, as many as the file has. */
function addInfluences(
  builder: Builder,
  primitive: Primitive,
  part: DraftPart,
  joints: Uint16Array,
  weights: Float32Array,
): void {
  const count = part.positions.length / 3;
  for (let set = 0; set * 4 < part.perVertex; set++) {
    const setJoints = new Uint16Array(count * 4);
    const setWeights = new Float32Array(count * 4);
    for (let vertex = 0; vertex < count; vertex++) {
      for (let slot = 0; slot < 4; slot++) {
        setJoints[vertex * 4 + slot] = joints[vertex * part.perVertex + set * 4 + slot];
        setWeights[vertex * 4 + slot] = weights[vertex * part.perVertex + set * 4 + slot];
      }
    }
    primitive
      .setAttribute(`JOINTS_${set}`, accessor(builder, 'VEC4', setJoints))
      .setAttribute(`WEIGHTS_${set}`, accessor(builder, 'VEC4', setWeights));
  }
}

function addClip(builder: Builder, clip: SceneDraft['clips'][number]): void {
  const animation = builder.document.createAnimation(clip.name);
  for (const track of clip.tracks) {
    if (track.times.length === 0) continue;
    const sampler = builder.document
      .createAnimationSampler()
      .setInput(accessor(builder, 'SCALAR', track.times))
      .setOutput(accessor(builder, track.path === 'rotation' ? 'VEC4' : 'VEC3', track.values))
      .setInterpolation('LINEAR');
    animation
      .addSampler(sampler)
      .addChannel(
        builder.document
          .createAnimationChannel()
          .setTargetNode(builder.nodes[track.node])
          .setTargetPath(track.path)
          .setSampler(sampler),
      );
  }
}
