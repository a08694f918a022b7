import { YarvoError } from '@/core/errors/yarvo-error';
import { IDENTITY } from '@/core/math/mat4';
import { gltfFacts, type SourceFacts } from '@/core/rig/source-facts';
import { statedUnit } from '../scene/stated-unit';
import type { PointData } from '../scene/part-builder';
import type { DraftMesh, SceneDraft } from '../scene/scene-draft';
import { TextureShelf } from '../scene/texture-shelf';
import type { Companions } from '../files/companions';
import { readClips } from './clips';
import { readParts, readPositions } from './geometry';
import { readMaterials } from './materials';
import { readNodes, type ColladaNode, type ColladaTree } from './nodes';
import { readSkin } from './skins';
import { attribute, child, children, descendants, parseXml, path, placeOf, text, type Xml } from './xml';

/**
 * A COLLADA 1.4 or 1.5 file as a scene: names (not sid), every controller with its bind shape, clips as grouped.
 * @throws {YarvoError}
 */
export function readCollada(bytes: Uint8Array, place: string, companions: Companions): SceneDraft {
  const root = parseXml(decodeXml(bytes), place);
  if (root.localName !== 'COLLADA')
    throw new YarvoError({
      code: 'not-collada',
      message: `The file's root is <${root.localName}>, not <COLLADA>.`,
      place,
      remedy: 'Export as COLLADA 1.4 or glTF 2.0.',
    });
  const byId = indexById(root);
  const sceneId = attribute(path(root, 'scene', 'instance_visual_scene') ?? root, 'url').replace(/^#/, '');
  const scene = byId.get(sceneId) ?? descendants(root, 'visual_scene')[0];
  if (!scene)
    throw new YarvoError({
      code: 'no-scene',
      message: 'The file holds no scene.',
      place,
      remedy: 'Export it again with the skeleton and the mesh selected.',
    });
  const tree = readNodes(scene, byId, place);
  const shelf = new TextureShelf(companions);
  const { materials, indexOf } = readMaterials(root, byId, shelf);
  const meshes = tree.nodes.flatMap((node) => readMeshes(node, tree, byId, indexOf, place));
  const remarks = [...tree.remarks];
  const clips = readClips(root, tree.nodes, place, remarks);
  return {
    facts: readFacts(root, tree, remarks, clips, shelf),
    nodes: tree.drafts,
    meshes,
    materials,
    textures: shelf.textures,
    clips,
  };
}

/** UTF-16 by its mark; everything else as UTF-8. */
function decodeXml(bytes: Uint8Array): string {
  const mark =
    bytes[0] === 0xff && bytes[1] === 0xfe ? 'utf-16le' : bytes[0] === 0xfe && bytes[1] === 0xff ? 'utf-16be' : 'utf-8';
  return new TextDecoder(mark).decode(bytes);
}

function indexById(root: Xml): Map<string, Xml> {
  const byId = new Map<string, Xml>();
  const stack = [root];
  for (let at = stack.pop(); at; at = stack.pop()) {
    const id = at.getAttribute('id');
    if (id && !byId.has(id)) byId.set(id, at);
    stack.push(...children(at));
  }
  return byId;
}

function readMeshes(
  node: ColladaNode,
  tree: ColladaTree,
  byId: ReadonlyMap<string, Xml>,
  materialIndex: ReadonlyMap<string, number>,
  place: string,
): DraftMesh[] {
  const meshes: DraftMesh[] = [];
  const url = (element: Xml, name = 'url') => byId.get(attribute(element, name).replace(/^#/, ''));
  for (const instance of children(node.element)) {
    if (instance.localName !== 'instance_geometry' && instance.localName !== 'instance_controller') continue;
    const symbols = new Map(
      descendants(instance, 'instance_material').map((entry) => [
        attribute(entry, 'symbol'),
        attribute(entry, 'target').replace(/^#/, ''),
      ]),
    );
    const materialOf = (symbol: string) => materialIndex.get(symbols.get(symbol) ?? symbol) ?? -1;
    let target = url(instance);
    let skinElement: Xml | undefined;
    // A controller may stand on another one: a morph on the geometry, the skin on the morph.
    for (let depth = 0; target?.localName === 'controller' && depth < 8; depth++) {
      const [skin, morph] = [child(target, 'skin'), child(target, 'morph')];
      skinElement ??= skin;
      const next = skin ?? morph;
      target = next && url(next, 'source');
    }
    const mesh = child(target, 'mesh');
    if (!target || !mesh) continue;
    const base = readPositions(mesh, IDENTITY, place);
    const pointCount = base.length / 3;
    const skeletons = children(instance, 'skeleton').flatMap((entry) =>
      tree.nodes.filter((candidate) => candidate.id === text(entry).replace(/^#/, '')),
    );
    const bound = skinElement
      ? readSkin(
          skinElement,
          pointCount,
          tree.nodes,
          skeletons,
          tree.drafts.map((draft) => draft.parent),
          place,
        )
      : null;
    const matrix = bound?.bindShape ?? IDENTITY;
    const data: PointData = {
      positions: bound ? readPositions(mesh, matrix, place) : base,
      joints: null,
      weights: null,
      perVertex: 4,
      morphs: [],
      ...bound?.influences,
    };
    if (!data.positions.every(Number.isFinite))
      throw new YarvoError({
        code: 'bad-number',
        message: 'A point of the mesh is not a finite number.',
        place: placeOf(mesh, place),
        remedy: 'Export the mesh again.',
      });
    meshes.push({
      name: attribute(target, 'name') || attribute(target, 'id'),
      node: node.index,
      parts: readParts(mesh, data, matrix, materialOf, place),
      skin: bound?.skin ?? null,
      morphNames: [],
    });
  }
  return meshes;
}

const UPS: Record<string, SourceFacts['up']> = { X_UP: '+X', Y_UP: '+Y', Z_UP: '+Z' };

function readFacts(
  root: Xml,
  tree: ColladaTree,
  remarks: readonly string[],
  clips: readonly { framesPerSecond: number; startSeconds: number }[],
  shelf: TextureShelf,
): SourceFacts {
  const asset = child(root, 'asset');
  const contributor = child(asset, 'contributor');
  const unit = statedUnit(Number(child(asset, 'unit')?.getAttribute('meter') ?? NaN));
  const said = (element: Xml | undefined, name: string) => text(child(element, name)).slice(0, 500);
  return gltfFacts({
    format: 'collada',
    version: attribute(root, 'version').slice(0, 40),
    generator: said(contributor, 'authoring_tool'),
    unitMetres: unit.unitMetres,
    up: UPS[text(child(asset, 'up_axis'))] ?? null,
    provenance: {
      source: said(asset, 'title'),
      author: said(contributor, 'author'),
      licence: '',
      attribution: said(contributor, 'copyright'),
    },
    textures: shelf.listFacts(),
    clipRates: clips.map(({ framesPerSecond, startSeconds }) => ({ framesPerSecond, startSeconds })),
    remarks: [...unit.remarks, ...remarks].map((remark) => remark.slice(0, 500)).slice(0, 50),
  });
}
