import type { AnimationChannel, Document, Node, Skin } from '@gltf-transform/core';
import type { ClipFacts, FileFacts } from '@/core/rig/file-facts';
import { invertAffine } from '@/core/math/mat4';
import { imageSize } from '@/core/rig/image-facts';
import { accessorFloats } from './accessor-floats';

/** Values that differ by less are the rest: of a turn's components, and of a place in the file's units by its own size. */
const RESTING = 1e-4;

/** What checks look at beside bones and meshes: skins, clips, materials, images, stray nodes. */
export function readFileFacts(
  document: Document,
  boneNodes: readonly Node[],
  boneOfNode: ReadonlyMap<Node, number>,
): Omit<FileFacts, 'parts' | 'sides' | 'middle' | 'seams'> {
  const root = document.getRoot();
  const shown = new Set(root.listScenes().flatMap((scene) => scene.listChildren().flatMap(withBelow)));
  const holds = (node: Node): boolean =>
    withBelow(node).some((each) => boneOfNode.has(each) || each.getMesh() !== null);
  return {
    skins: root.listSkins().map((skin, at) => skinFacts(skin, at, boneNodes, boneOfNode)),
    clips: root.listAnimations().map((clip, at) => {
      const channels = clip.listChannels();
      return { name: clip.getName() || `clip ${at}`, ...clipFacts(channels, boneOfNode) };
    }),
    materials: root.listMaterials().map((material, at) => ({
      name: material.getName() || `material ${at}`,
      isDoubleSided: material.getDoubleSided(),
      isTransparent: material.getAlphaMode() !== 'OPAQUE',
      extensions: material.listExtensions().map(({ extensionName }) => extensionName),
    })),
    images: root.listTextures().map((texture, at) => {
      const bytes = texture.getImage();
      const size = bytes ? imageSize(bytes) : { width: 0, height: 0 };
      return {
        name: texture.getName() || texture.getURI() || `texture ${at}`,
        mimeType: texture.getMimeType(),
        bytes: bytes?.length ?? 0,
        ...size,
      };
    }),
    strayRoots: root
      .listScenes()
      .flatMap((scene) => scene.listChildren())
      .filter((node) => !holds(node) && !node.getCamera() && !node.getExtension('KHR_lights_punctual'))
      .map((node) => node.getName() || 'unnamed'),
    unseen:
      root.listScenes().length === 0
        ? []
        : root
            .listNodes()
            .filter((node) => !shown.has(node) && node.getParentNode() === null)
            .map((node) => node.getName() || 'unnamed'),
  };
}

const withBelow = (node: Node): Node[] => {
  const found = [node];
  for (const each of found) found.push(...each.listChildren());
  return found;
};

function skinFacts(
  skin: Skin,
  at: number,
  boneNodes: readonly Node[],
  boneOfNode: ReadonlyMap<Node, number>,
): FileFacts['skins'][number] {
  const matrices = skin.getInverseBindMatrices();
  const bones = skin.listJoints().map((joint) => boneOfNode.get(joint) ?? -1);
  const degenerate = bones.filter((bone, joint) => {
    if (!matrices || bone < 0 || joint >= matrices.getCount()) return false;
    const matrix = matrices.getElement(joint, []);
    return !matrix.every(Number.isFinite) || invertAffine(matrix) === null;
  });
  const place = new Map(bones.map((bone, joint) => [bone, joint]));
  const isUnordered = bones.some((bone, joint) => {
    const parent = bone < 0 ? null : boneNodes[bone].getParentNode();
    const above = parent ? place.get(boneOfNode.get(parent) ?? -2) : undefined;
    return above !== undefined && above > joint;
  });
  return {
    name: skin.getName() || `skin ${at}`,
    bones,
    matrices: matrices?.getCount() ?? null,
    degenerate,
    isUnordered,
  };
}

function clipFacts(
  channels: readonly AnimationChannel[],
  boneOfNode: ReadonlyMap<Node, number>,
): Omit<ClipFacts, 'name'> {
  const lists = { unordered: new Set<number>(), broken: new Set<number>() };
  const moves = new Map<number, boolean>();
  const travels: ClipFacts['travels'] = [];
  let foreign = 0;
  let startSeconds = Infinity;
  for (const channel of channels) {
    const [node, path, sampler] = [channel.getTargetNode(), channel.getTargetPath(), channel.getSampler()];
    const [input, output] = [sampler?.getInput(), sampler?.getOutput()];
    const bone = node ? boneOfNode.get(node) : undefined;
    if (bone === undefined && !(path === 'weights' && node?.getMesh())) foreign++;
    if (!node || !path || !sampler || !input || !output) continue;
    const times = accessorFloats(input, 1);
    if (times.length > 0 && times[0] < startSeconds) [startSeconds] = times;
    if (bone === undefined || path === 'weights') continue;
    if (times.some((time, key) => !Number.isFinite(time) || time < 0 || (key > 0 && time <= times[key - 1])))
      lists.unordered.add(bone);
    const size = path === 'rotation' ? 4 : 3;
    const values = accessorFloats(output, size);
    if (isBroken(values, path)) lists.broken.add(bone);
    else if (path === 'translation') travels.push({ bone, reach: reachOf(values) });
    moves.set(bone, (moves.get(bone) ?? false) || !isResting(values, restOf(node, path), size));
  }
  return {
    channels: channels.length,
    foreign,
    unordered: [...lists.unordered],
    broken: [...lists.broken],
    resting: [...moves].filter(([, hasMoved]) => !hasMoved).map(([bone]) => bone),
    travels,
    startSeconds: Number.isFinite(startSeconds) ? startSeconds : 0,
  };
}

const restOf = (node: Node, path: 'rotation' | 'translation' | 'scale'): readonly number[] =>
  path === 'rotation' ? node.getRotation() : path === 'translation' ? node.getTranslation() : node.getScale();

function isBroken(values: Float32Array, path: string): boolean {
  for (let at = 0; at < values.length; at++) if (!Number.isFinite(values[at])) return true;
  return path === 'rotation' && values.length === 4 && Math.hypot(...values) < 1e-6;
}

/** Diagonal of what the keyed places span. */
function reachOf(values: Float32Array): number {
  const [low, high] = [
    [Infinity, Infinity, Infinity],
    [-Infinity, -Infinity, -Infinity],
  ];
  for (let at = 0; at < values.length; at++) {
    const k = at % 3;
    if (values[at] < low[k]) low[k] = values[at];
    if (values[at] > high[k]) high[k] = values[at];
  }
  return values.length === 0 ? 0 : Math.hypot(...high.map((value, k) => value - low[k]));
}

/** Whether all keys are the rest; q and -q are one turn. */
function isResting(values: Float32Array, rest: readonly number[], size: number): boolean {
  const slack = size === 4 ? RESTING : RESTING * Math.max(1, Math.hypot(...rest));
  for (let at = 0; at < values.length; at += size) {
    const isFar = (sign: number) => rest.some((value, k) => Math.abs(sign * values[at + k] - value) > slack);
    if (isFar(1) && !(size === 4 && !isFar(-1))) return false;
  }
  return true;
}
