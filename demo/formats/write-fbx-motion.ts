import type { Quat } from '@/core/math/quat';
import type { Vec3 } from '@/core/math/vec3';
import { eulerXyz, FRAMES_PER_SECOND, type Writing } from './gather';
import { array, header, property, TICKS_PER_SECOND, unwrapped } from './write-fbx';

export interface FbxMotion {
  readonly names: readonly string[];
  readonly parents: readonly number[];
  readonly rest: readonly { readonly translation: Vec3; readonly rotation: Quat }[];
  readonly takes: readonly {
    readonly name: string;
    readonly curves: readonly { readonly joint: number; readonly kind: 'R' | 'T'; readonly values: readonly Vec3[] }[];
  }[];
}

const CURVES = { R: 'Lcl Rotation', T: 'Lcl Translation' } as const;

/** Joints with takes and no mesh as text FBX 7.4. */
export function writeFbxMotion({ names, parents, rest, takes }: FbxMotion, writing: Writing): string {
  const objects: string[] = [];
  const links: string[] = [];
  let nextId = 1000;
  const id = () => nextId++;
  const link = (child: number, parent: number, name?: string) =>
    links.push(name ? `\tC: "OP",${child},${parent}, "${name}"` : `\tC: "OO",${child},${parent}`);
  const ids = names.map(id);
  names.forEach((name, joint) => {
    const { translation, rotation } = rest[joint];
    const properties = [
      property('InheritType', 'enum', '', [1]),
      property('Lcl Translation', 'Lcl Translation', '', translation, 'A'),
      property('Lcl Rotation', 'Lcl Rotation', '', eulerXyz(rotation), 'A'),
    ];
    objects.push(
      `\tModel: ${ids[joint]}, "Model::${name}", "LimbNode" {\n\t\tVersion: 232\n\t\tProperties70:  {\n${properties.join('\n')}\n\t\t}\n\t\tShading: Y\n\t}`,
    );
    link(ids[joint], parents[joint] < 0 ? 0 : ids[parents[joint]]);
  });
  for (const { name, curves } of takes) {
    const [stack, layer] = [id(), id()];
    const last = curves[0].values.length - 1;
    const stop = Math.round((last / FRAMES_PER_SECOND) * TICKS_PER_SECOND);
    objects.push(
      `\tAnimationStack: ${stack}, "AnimStack::${name}", "" {\n\t\tProperties70:  {\n\t\t\tP: "LocalStart", "KTime", "Time", "",0\n\t\t\tP: "LocalStop", "KTime", "Time", "",${stop}\n\t\t}\n\t}`,
      `\tAnimationLayer: ${layer}, "AnimLayer::Base", "" {\n\t}`,
    );
    link(layer, stack);
    for (const { joint, kind, values } of curves) {
      const node = id();
      const shown = kind === 'R' ? unwrapped(values) : values;
      const axes = ['d|X', 'd|Y', 'd|Z'];
      objects.push(
        `\tAnimationCurveNode: ${node}, "AnimCurveNode::${kind}", "" {\n\t\tProperties70:  {\n${axes.map((axis, at) => property(axis, 'Number', '', [shown[0][at]], 'A')).join('\n')}\n\t\t}\n\t}`,
      );
      link(node, layer);
      link(node, ids[joint], CURVES[kind]);
      axes.forEach((axis, at) => {
        const curve = id();
        const keys = shown.map((_, frame) => Math.round((frame / FRAMES_PER_SECOND) * TICKS_PER_SECOND));
        objects.push(
          [
            `\tAnimationCurve: ${curve}, "AnimCurve::", "" {`,
            '\t\tDefault: 0',
            '\t\tKeyVer: 4009',
            array('KeyTime', keys, String),
            array(
              'KeyValueFloat',
              shown.map((value) => value[at]),
            ),
            array('KeyAttrFlags', [4]),
            array('KeyAttrDataFloat', [0, 0, 0, 0]),
            array('KeyAttrRefCount', [shown.length]),
            '\t}',
          ].join('\n'),
        );
        link(curve, node, axis);
      });
    }
  }
  return [header(writing), 'Objects:  {', ...objects, '}', '', 'Connections:  {', ...links, '}', ''].join('\n');
}
