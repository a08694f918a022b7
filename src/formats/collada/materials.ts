import type { DraftMaterial } from '../scene/scene-draft';
import type { TextureShelf } from '../scene/texture-shelf';
import { attribute, child, children, descendants, numbers, path, text, type Xml } from './xml';

/** Materials of the file by id, with their effect's colour and pictures. */
export function readMaterials(
  root: Xml,
  byId: ReadonlyMap<string, Xml>,
  shelf: TextureShelf,
): { materials: DraftMaterial[]; indexOf: Map<string, number> } {
  const materials: DraftMaterial[] = [];
  const indexOf = new Map<string, number>();
  for (const element of children(child(root, 'library_materials'), 'material')) {
    const effect = byId.get(attribute(child(element, 'instance_effect') ?? element, 'url').replace(/^#/, ''));
    const shader =
      effect &&
      (descendants(effect, 'phong')[0] ??
        descendants(effect, 'lambert')[0] ??
        descendants(effect, 'blinn')[0] ??
        descendants(effect, 'constant')[0]);
    const picture = (slot: string, purpose: string) => {
      const sampler = shader && path(shader, slot, 'texture');
      const reference = sampler && effect ? imageOf(effect, attribute(sampler, 'texture'), byId) : null;
      return reference ? shelf.place(reference, null, purpose) : -1;
    };
    const colour = numbers(path(shader, 'diffuse', 'color'));
    const colourTexture = picture('diffuse', 'colour');
    const transparency = numbers(path(shader, 'transparency', 'float'))[0] ?? 1;
    const [r, g, b] =
      colourTexture < 0 && colour.length >= 3
        ? [...colour].map((value) => Math.min(1, Math.max(0, value)) ** 2.2)
        : [1, 1, 1];
    indexOf.set(attribute(element, 'id'), materials.length);
    materials.push({
      name: attribute(element, 'name') || attribute(element, 'id'),
      colour: [r || 0, g || 0, b || 0, transparency > 0 && transparency < 1 ? transparency : 1],
      colourTexture,
      normalTexture: picture('bump', 'normal'),
      emissiveTexture: picture('emission', 'glow'),
      isDoubleSided: true,
    });
  }
  return { materials, indexOf };
}

/** texture -> sampler -> surface -> image -> file. */
function imageOf(effect: Xml, name: string, byId: ReadonlyMap<string, Xml>): string | null {
  const parameter = (sid: string) => descendants(effect, 'newparam').find((param) => attribute(param, 'sid') === sid);
  const surface = text(path(parameter(name), 'sampler2D', 'source'));
  const id = surface ? text(path(parameter(surface), 'surface', 'init_from')) : name;
  const image = byId.get(id) ?? byId.get(name);
  const from = image && child(image, 'init_from');
  return from ? text(child(from, 'ref') ?? from) || null : null;
}
