import { YarvoError } from '@/core/errors/yarvo-error';
import { invertAffine, transformPoint, turnNormal, IDENTITY, type Mat4 } from '@/core/math/mat4';
import type { Vec3 } from '@/core/math/vec3';
import { PartBuilder, type Corner, type PointData } from '../scene/part-builder';
import type { DraftPart } from '../scene/scene-draft';
import { elementOf, readInputs, readSources, type Input } from './sources';
import { attribute, child, children, numbers, placeOf, type Xml } from './xml';

const POLYGONS = new Set(['triangles', 'polylist', 'polygons', 'tristrips', 'trifans']);

/** Points of a geometry, [pointCount x 3], with `matrix` applied. */
export function readPositions(mesh: Xml, matrix: Mat4, place: string): Float64Array {
  const sources = readSources(mesh, place);
  const vertices = child(mesh, 'vertices');
  const position =
    vertices && readInputs(vertices, sources, undefined, place).find((input) => input.semantic === 'POSITION')?.source;
  if (!position) return new Float64Array(0);
  const points = new Float64Array(position.count * 3);
  for (let point = 0; point < position.count; point++)
    points.set(transformPoint(matrix, elementOf(position, point, 3) as unknown as Vec3), point * 3);
  return points;
}

/** Triangles of a mesh, one part per material symbol. @throws {YarvoError} */
export function readParts(
  mesh: Xml,
  data: PointData,
  matrix: Mat4,
  materialOf: (symbol: string) => number,
  place: string,
): DraftPart[] {
  const sources = readSources(mesh, place);
  const builders = new Map<number, PartBuilder>();
  const inverse = invertAffine(matrix) ?? IDENTITY;
  for (const element of children(mesh)) {
    if (!POLYGONS.has(element.localName ?? '')) continue;
    const inputs = readInputs(element, sources, child(mesh, 'vertices'), place);
    const material = materialOf(attribute(element, 'material'));
    const builder = builders.get(material) ?? new PartBuilder(material, data);
    builders.set(material, builder);
    const corner = cornerReader(inputs, data.positions.length / 3, inverse, placeOf(element, place));
    for (const polygon of polygonsOf(element, inputs, placeOf(element, place))) builder.addPolygon(polygon.map(corner));
  }
  return [...builders.values()].map((builder) => builder.build());
}

/** Index tuples of each polygon. */
function* polygonsOf(element: Xml, inputs: readonly Input[], place: string): Generator<ArrayLike<number>[]> {
  const width = Math.max(...inputs.map((input) => input.offset), 0) + 1;
  const counts = element.localName === 'polylist' ? numbers(child(element, 'vcount')) : null;
  for (const list of children(element, 'p')) {
    const indices = numbers(list);
    if (indices.some((value) => !Number.isInteger(value) || value < 0))
      throw new YarvoError({
        code: 'bad-index',
        message: "A polygon's corners are not valid indices.",
        place,
        remedy: 'Export the mesh again.',
      });
    const tuple =
      width === 1 ? (at: number) => [indices[at]] : (at: number) => indices.subarray(at * width, (at + 1) * width);
    const total = Math.floor(indices.length / width);
    const range = (from: number, count: number) => {
      const out: ArrayLike<number>[] = [];
      for (let k = 0; k < count; k++) out.push(tuple(from + k));
      return out;
    };
    if (element.localName === 'triangles') for (let at = 0; at + 2 < total; at += 3) yield range(at, 3);
    else if (element.localName === 'polygons' || element.localName === 'trifans') yield range(0, total);
    else if (element.localName === 'tristrips')
      for (let at = 0; at + 2 < total; at++)
        yield at % 2 === 0 ? range(at, 3) : [tuple(at + 1), tuple(at), tuple(at + 2)];
    else {
      let at = 0;
      for (const count of counts ?? []) {
        if (!(count >= 0) || at + count > total)
          throw new YarvoError({
            code: 'bad-length',
            message: `A polygon of ${count} corners goes past the ${total} listed.`,
            place,
            remedy: 'Export the mesh again.',
          });
        yield range(at, count);
        at += count;
      }
    }
  }
}

function cornerReader(
  inputs: readonly Input[],
  pointCount: number,
  inverse: Mat4,
  place: string,
): (tuple: ArrayLike<number>) => Corner {
  const find = (semantic: string) =>
    inputs.filter((input) => input.semantic === semantic).sort((a, b) => a.set - b.set)[0];
  const [position, normal, uv, colour] = [find('POSITION'), find('NORMAL'), find('TEXCOORD'), find('COLOR')];
  const at = (input: Input | undefined, tuple: ArrayLike<number>, size: number) => {
    if (!input) return null;
    const index = tuple[input.offset];
    if (!(index < input.source.count))
      throw new YarvoError({
        code: 'bad-index',
        message: `A corner names ${input.semantic} ${index} of ${input.source.count}.`,
        place,
        remedy: 'Export the mesh again.',
      });
    return elementOf(input.source, index, size);
  };
  return (tuple) => {
    const point = position ? tuple[position.offset] : -1;
    if (!(point >= 0 && point < pointCount))
      throw new YarvoError({
        code: 'bad-index',
        message: `A corner names point ${point} of ${pointCount}.`,
        place,
        remedy: 'Export the mesh again.',
      });
    const [n, t, c] = [at(normal, tuple, 3), at(uv, tuple, 2), at(colour, tuple, 4)];
    return {
      point,
      normal: n ? turnNormal(inverse, n as unknown as Vec3) : null,
      uv: t ? [t[0], 1 - t[1]] : null,
      colour: c as Corner['colour'],
    };
  };
}
