import { YarvoError } from '@/core/errors/yarvo-error';
import { attribute, child, children, numbers, path, placeOf, text, type Xml } from './xml';

/** A <source>: numbers or names, so many to an element. */
export interface Source {
  readonly values: Float64Array;
  readonly names: readonly string[];
  readonly stride: number;
  readonly offset: number;
  readonly count: number;
}

const MAX_ELEMENTS = 20_000_000;

/** Sources are asked for once for points and once for polygons; parsing them is most of the work. */
const known = new WeakMap<Xml, ReadonlyMap<string, Source>>();

/** Sources of an element by id. @throws {YarvoError} */
export function readSources(element: Xml, place: string): ReadonlyMap<string, Source> {
  const before = known.get(element);
  if (before) return before;
  const sources = new Map<string, Source>();
  for (const source of children(element, 'source')) {
    const accessor = path(source, 'technique_common', 'accessor');
    const nameArray = child(source, 'Name_array') ?? child(source, 'IDREF_array');
    const values = numbers(child(source, 'float_array') ?? child(source, 'int_array'));
    const names = nameArray ? text(nameArray).split(/\s+/).filter(Boolean) : [];
    const [stride, offset] = [
      Number(accessor?.getAttribute('stride') ?? 1) || 1,
      Number(accessor?.getAttribute('offset') ?? 0) || 0,
    ];
    const length = Math.max(values.length, names.length);
    const count = Number(accessor?.getAttribute('count') ?? Math.floor(length / stride));
    if (!(count >= 0 && count <= MAX_ELEMENTS && stride > 0 && offset >= 0) || offset + count * stride > length) {
      throw new YarvoError({
        code: 'bad-length',
        message: `A source promises ${count} elements of ${stride}, but holds ${length} values.`,
        place: placeOf(source, place),
        remedy: 'Export the file again; this part of it is damaged.',
      });
    }
    sources.set(attribute(source, 'id'), { values, names, stride, offset, count });
  }
  known.set(element, sources);
  return sources;
}

export interface Input {
  readonly semantic: string;
  readonly offset: number;
  readonly set: number;
  readonly source: Source;
}

/** The inputs of an element. A VERTEX input stands for the POSITION, NORMAL ... of its <vertices>. @throws {YarvoError} */
export function readInputs(
  element: Xml,
  sources: ReadonlyMap<string, Source>,
  vertices: Xml | undefined,
  place: string,
): Input[] {
  return children(element, 'input').flatMap((input): Input[] => {
    const [semantic, offset, set] = [
      attribute(input, 'semantic'),
      Number(attribute(input, 'offset')) || 0,
      Number(attribute(input, 'set')) || 0,
    ];
    if (semantic === 'VERTEX' && vertices)
      return readInputs(vertices, sources, undefined, place).map((inner) => ({ ...inner, offset }));
    const source = sources.get(attribute(input, 'source').replace(/^#/, ''));
    if (!source)
      throw new YarvoError({
        code: 'missing-source',
        message: `The input ${semantic} names a source that is not there.`,
        place: placeOf(input, place),
        remedy: 'Export the file again; this part of it is damaged.',
      });
    return [{ semantic, offset, set, source }];
  });
}

/** Element `index` of a source, `size` numbers. */
export function elementOf({ values, stride, offset }: Source, index: number, size: number): number[] {
  const out: number[] = [];
  for (let k = 0; k < size; k++) out.push(k < stride ? values[offset + index * stride + k] : k === 3 ? 1 : 0);
  return out;
}
