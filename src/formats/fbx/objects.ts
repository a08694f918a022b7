import { childNamed, fbxError, idOf, textOf, type FbxFile, type FbxNode } from './fbx-tree';
import { Properties } from './properties';

/** An object of the file: a model, a geometry, a deformer, a curve ... */
export interface FbxObject {
  readonly id: string;
  /** Record name: "Model", "Geometry", "Deformer" ... */
  readonly kind: string;
  /** The file's own name, without its class. */
  readonly name: string;
  /** "LimbNode", "Mesh", "Skin", "Cluster" ... */
  readonly type: string;
  readonly node: FbxNode;
  readonly properties: Properties;
}

interface FbxLink {
  readonly object: FbxObject;
  /** The property that the connection ends in; empty for object to object. */
  readonly property: string;
}

export interface FbxObjects {
  readonly all: readonly FbxObject[];
  /** What hangs below an object, in the file's order. */
  readonly childrenOf: (object: FbxObject, kind?: string) => readonly FbxLink[];
  readonly parentsOf: (object: FbxObject, kind?: string) => readonly FbxLink[];
  readonly settings: Properties;
}

/** Objects and the connections between them. @throws {YarvoError} when the file has no objects. */
export function readObjects(file: FbxFile, place: string): FbxObjects {
  const section = file.roots.find((node) => node.name === 'Objects');
  if (!section)
    throw fbxError(
      'no-objects',
      'The file holds no objects.',
      place,
      'Export it again with the skeleton and the mesh selected.',
    );
  const templates = readTemplates(file);
  const all: FbxObject[] = [];
  const byId = new Map<string, FbxObject>();
  for (const node of section.children) {
    const id = idOf(node.values[0]);
    if (!id || byId.has(id)) continue;
    const object: FbxObject = {
      id,
      kind: node.name,
      name: plainName(textOf(node.values[1])),
      type: textOf(node.values[2]),
      node,
      properties: new Properties(node, templates.get(node.name) ?? null),
    };
    all.push(object);
    byId.set(id, object);
  }
  const [below, above] = [new Map<string, FbxLink[]>(), new Map<string, FbxLink[]>()];
  for (const link of file.roots.find((node) => node.name === 'Connections')?.children ?? []) {
    const [child, parent] = [byId.get(idOf(link.values[1])), byId.get(idOf(link.values[2]))];
    if (!child || !parent || child === parent) continue;
    const property = textOf(link.values[3]);
    push(below, parent.id, { object: child, property });
    push(above, child.id, { object: parent, property });
  }
  const pick = (map: Map<string, FbxLink[]>) => (object: FbxObject, kind?: string) => {
    const links = map.get(object.id) ?? [];
    return kind ? links.filter((link) => link.object.kind === kind) : links;
  };
  return {
    all,
    childrenOf: pick(below),
    parentsOf: pick(above),
    settings: new Properties(file.roots.find((node) => node.name === 'GlobalSettings')),
  };
}

function push(map: Map<string, FbxLink[]>, key: string, link: FbxLink): void {
  const list = map.get(key);
  if (list) list.push(link);
  else map.set(key, [link]);
}

/** Binary files write "name\0\x01Class", text files "Class::name". */
function plainName(text: string): string {
  const cut = text.indexOf('\0\x01');
  if (cut >= 0) return text.slice(0, cut);
  return text.replace(/^[A-Za-z]*::/, '');
}

function readTemplates(file: FbxFile): Map<string, Properties> {
  const templates = new Map<string, Properties>();
  for (const type of file.roots.find((node) => node.name === 'Definitions')?.children ?? []) {
    const template = type.name === 'ObjectType' ? childNamed(type, 'PropertyTemplate') : undefined;
    // A class of models ("FbxNode") shares its record name with cameras and lights, whose templates say other things.
    if (template && !(type.values[0] === 'NodeAttribute'))
      templates.set(textOf(type.values[0]), new Properties(template));
  }
  return templates;
}
