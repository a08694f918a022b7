import { determinant3, invertAffine, transformPoint, turnNormal, type Mat4 } from '@/core/math/mat4';
import type { Vec3 } from '@/core/math/vec3';
import { PartBuilder, type Corner, type PointData } from '../scene/part-builder';
import type { DraftPart } from '../scene/scene-draft';
import { childNamed, fbxError, numbersOf, textOf, type FbxArray, type FbxNode } from './fbx-tree';

/** Control points of a geometry with `matrix` applied, [pointCount x 3]. @throws {YarvoError} */
export function readPoints(node: FbxNode, matrix: Mat4): Float64Array {
  const raw = numbersOf(childNamed(node, 'Vertices'));
  if (raw.length % 3 !== 0)
    throw fbxError('bad-geometry', `${raw.length} coordinates do not make whole points.`, node.place);
  const points = new Float64Array(raw.length);
  for (let at = 0; at < raw.length; at += 3)
    points.set(transformPoint(matrix, [raw[at], raw[at + 1], raw[at + 2]]), at);
  return points;
}

/** One layer ("LayerElementNormal" ...): which value stands at which corner. */
class Layer {
  private readonly mapping: string;
  private readonly values: FbxArray;
  private readonly index: FbxArray | null;

  constructor(
    private readonly node: FbxNode,
    valueName: string,
    indexName: string,
    private readonly size: number,
  ) {
    this.mapping = textOf(childNamed(node, 'MappingInformationType')?.values[0]);
    this.values = numbersOf(childNamed(node, valueName));
    const isIndexed = textOf(childNamed(node, 'ReferenceInformationType')?.values[0]) !== 'Direct';
    const index = numbersOf(childNamed(node, indexName));
    this.index = isIndexed && index.length > 0 ? index : null;
  }

  at(corner: number, point: number, polygon: number): number[] | null {
    const slot = this.slot(corner, point, polygon);
    const at = this.index ? this.index[slot] : slot;
    if (at === undefined || at < 0 || (at + 1) * this.size > this.values.length) return null;
    return Array.from({ length: this.size }, (_, k) => Number(this.values[at * this.size + k]));
  }

  private slot(corner: number, point: number, polygon: number): number {
    switch (this.mapping) {
      case 'ByPolygonVertex':
        return corner;
      case 'ByVertice':
      case 'ByVertex':
        return point;
      case 'ByPolygon':
        return polygon;
      case 'AllSame':
        return 0;
      default:
        throw fbxError(
          'unknown-mapping',
          `A layer is mapped "${this.mapping}", which is not read.`,
          this.node.place,
          'Export normals and texture coordinates per polygon vertex.',
        );
    }
  }
}

/**
 * The polygons of a geometry as triangles, one part per material used.
 * @param materials index into the draft's materials per slot of the model.
 * @throws {YarvoError} where a polygon names a point that is not there.
 */
export function readParts(node: FbxNode, data: PointData, matrix: Mat4, materials: readonly number[]): DraftPart[] {
  const corners = numbersOf(childNamed(node, 'PolygonVertexIndex'));
  const pointCount = data.positions.length / 3;
  const layer = (name: string, values: string, index: string, size: number) => {
    const found = childNamed(node, name);
    return found ? new Layer(found, values, index, size) : null;
  };
  const normals = layer('LayerElementNormal', 'Normals', 'NormalsIndex', 3);
  const uvs = layer('LayerElementUV', 'UV', 'UVIndex', 2);
  const colours = layer('LayerElementColor', 'Colors', 'ColorIndex', 4);
  const slots = layer('LayerElementMaterial', 'Materials', '', 1);
  const normalMatrix = invertAffine(matrix);
  const isMirrored = determinant3(matrix) < 0;
  const builders = new Map<number, PartBuilder>();
  let polygon: Corner[] = [];
  let polygonIndex = 0;
  for (let at = 0; at < corners.length; at++) {
    const isLast = corners[at] < 0;
    const point = isLast ? -corners[at] - 1 : corners[at];
    if (point >= pointCount)
      throw fbxError('bad-index', `A polygon names point ${point} of ${pointCount}.`, node.place);
    const normal = normals?.at(at, point, polygonIndex) as Vec3 | null | undefined;
    const uv = uvs?.at(at, point, polygonIndex);
    polygon.push({
      point,
      normal: normal && normalMatrix ? turnNormal(normalMatrix, normal) : (normal ?? null),
      uv: uv ? [uv[0], 1 - uv[1]] : null,
      colour: (colours?.at(at, point, polygonIndex) as Corner['colour'] | undefined) ?? null,
    });
    if (!isLast) continue;
    const slot = slots?.at(at, point, polygonIndex)?.[0] ?? 0;
    const material = materials[slot] ?? materials[0] ?? -1;
    const builder = builders.get(material) ?? new PartBuilder(material, data);
    builders.set(material, builder);
    builder.addPolygon(isMirrored ? polygon.reverse() : polygon);
    polygon = [];
    polygonIndex++;
  }
  return [...builders.values()].map((builder) => builder.build());
}
