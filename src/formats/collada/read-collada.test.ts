import { describe, expect, it } from 'vitest';
import { refusalOf } from '../../../tests/helpers/refusal';
import { Companions } from '../files/companions';
import { readCollada } from './read-collada';

const read = (text: string) => readCollada(new TextEncoder().encode(text), 'quay.dae', new Companions([]));
const file = (nodes: string, more = '', asset = '<unit meter="0.01"/><up_axis>Z_UP</up_axis>') =>
  `<?xml version="1.0"?><COLLADA version="1.4.1"><asset>${asset}</asset>${more}<library_visual_scenes><visual_scene id="s">${nodes}</visual_scene></library_visual_scenes><scene><instance_visual_scene url="#s"/></scene></COLLADA>`;

describe('readCollada', () => {
  it('takes names, not sid or id, and states unit and up', () => {
    const { nodes, facts } = read(
      file('<node id="a1" sid="joint1" name="Mast" type="JOINT"><node id="b2" sid="joint2" type="JOINT"/></node>'),
    );
    expect(nodes.map((node) => [node.name, node.kind, node.parent])).toEqual([
      ['Mast', 'joint', -1],
      ['b2', 'joint', 0],
    ]);
    expect(facts).toMatchObject({ unitMetres: 0.01, up: '+Z', version: '1.4.1' });
  });

  it('multiplies the steps of a node in their order', () => {
    // Move by (1,0,0), then turn by 90 degrees about z, then move by (2,0,0) in the turned frame: (1,2,0).
    const { nodes } = read(
      file(
        '<node name="a"><translate>1 0 0</translate><rotate>0 0 1 90</rotate><translate>2 0 0</translate><scale>3 3 3</scale></node>',
      ),
    );
    nodes[0].rest.translation.forEach((value, axis) => expect(value).toBeCloseTo([1, 2, 0][axis], 9));
    expect(nodes[0].rest.scale.map((value) => Math.round(value * 1e9) / 1e9)).toEqual([3, 3, 3]);
  });

  it('reads matrices row by row', () => {
    expect(
      read(file('<node name="a"><matrix>1 0 0 7 0 1 0 8 0 0 1 9 0 0 0 1</matrix></node>')).nodes[0].rest.translation,
    ).toEqual([7, 8, 9]);
  });

  it('puts a library node wherever it is instanced', () => {
    const { nodes } = read(
      file(
        '<node name="a"><instance_node url="#n"/></node><node name="b"><instance_node url="#n"/></node>',
        '<library_nodes><node id="n" name="buoy"/></library_nodes>',
      ),
    );
    expect(nodes.map((node) => [node.name, node.parent])).toEqual([
      ['a', -1],
      ['buoy', 0],
      ['b', -1],
      ['buoy', 2],
    ]);
  });

  const source = (id: string, values: string, stride: number, count: number, names = false) =>
    `<source id="${id}"><${names ? 'Name' : 'float'}_array id="${id}-a" count="9">${values}</${names ? 'Name' : 'float'}_array><technique_common><accessor source="#${id}-a" count="${count}" stride="${stride}"/></technique_common></source>`;
  const mesh = `<library_geometries><geometry id="g" name="Sail"><mesh>${source('p', '0 0 0 1 0 0 0 1 0', 3, 3)}<vertices id="v"><input semantic="POSITION" source="#p"/></vertices><triangles count="1"><input semantic="VERTEX" source="#v" offset="0"/><p>0 1 2</p></triangles></mesh></geometry></library_geometries>`;
  const skin = (joints: string) =>
    `<library_controllers><controller id="c"><skin source="#g"><bind_shape_matrix>1 0 0 0 0 1 0 0 0 0 1 5 0 0 0 1</bind_shape_matrix>${source('j', joints, 1, 2, true)}${source('b', '1 0 0 0 0 1 0 0 0 0 1 0 0 0 0 1 1 0 0 0 0 1 0 0 0 0 1 -2 0 0 0 1', 16, 2)}${source('w', '0.25 0.75', 1, 2)}<joints><input semantic="JOINT" source="#j"/><input semantic="INV_BIND_MATRIX" source="#b"/></joints><vertex_weights count="3"><input semantic="JOINT" source="#j" offset="0"/><input semantic="WEIGHT" source="#w" offset="1"/><vcount>2 1 1</vcount><v>0 0 1 1 0 1 1 1</v></vertex_weights></skin></controller></library_controllers>`;
  const bones =
    '<node id="i0" sid="s0" name="Foot" type="JOINT"><node id="i1" sid="s1" name="Top" type="JOINT"><translate>0 0 2</translate></node></node>';
  const carrier =
    '<node name="body"><instance_controller url="#c"><skeleton>#i0</skeleton></instance_controller></node>';

  it('binds by sid, moves the points by the bind shape, keeps every weight', () => {
    const { meshes } = read(file(bones + carrier, mesh + skin('s0 s1')));
    const [part] = meshes[0].parts;
    expect(meshes[0].skin?.joints).toEqual([0, 1]);
    expect([...part.positions]).toEqual([0, 0, 5, 1, 0, 5, 0, 1, 5]);
    expect([...(part.joints ?? [])].slice(0, 2)).toEqual([0, 1]);
    expect([...(part.weights ?? [])].slice(0, 2)).toEqual([0.25, 0.75]);
    // Bind matrices are written row by row: the second one's translation is (0, 0, -2).
    expect([...(meshes[0].skin?.inverseBinds.slice(28, 31) ?? [])]).toEqual([0, 0, -2]);
  });

  it('leaves out a motion whose keys are not in the file, says so, and keeps the rest', () => {
    const sampler = (id: string) =>
      `<sampler id="${id}s"><input semantic="INPUT" source="#${id}i"/><input semantic="OUTPUT" source="#${id}o"/></sampler>`;
    const library = `<library_animations><animation>${source('mi', '0 1', 1, 2)}${source('mo', '0 4', 1, 2)}${sampler('m')}${sampler('lost')}<channel source="#ms" target="n/lift.Z"/><channel source="#losts" target="h/lift.Z"/></animation></library_animations>`;
    const { clips, facts } = read(
      file(
        '<node id="n" name="Crane"><translate sid="lift">1 2 3</translate></node><node id="h" name="Hook"><translate sid="lift">0 0 0</translate></node>',
        library,
      ),
    );
    expect(new Set(clips[0].tracks.map((track) => track.node))).toEqual(new Set([0]));
    expect(facts.remarks).toEqual(['The motion of Hook names keys that the file does not hold; it is left out.']);
  });

  it('animates a part of a stack and groups clips as the file does', () => {
    const animation = (id: string, target: string, values: string) =>
      `<animation id="${id}">${source(`${id}i`, '0 1', 1, 2)}${source(`${id}o`, values, 1, 2)}<sampler id="${id}s"><input semantic="INPUT" source="#${id}i"/><input semantic="OUTPUT" source="#${id}o"/></sampler><channel source="#${id}s" target="${target}"/></animation>`;
    const library = `<library_animations>${animation('m', 'n/lift.Z', '0 4')}${animation('r', 'n/turn.ANGLE', '0 90')}</library_animations><library_animation_clips><animation_clip name="Lift" start="0" end="1"><instance_animation url="#m"/></animation_clip><animation_clip name="Turn"><instance_animation url="#r"/></animation_clip></library_animation_clips>`;
    const { clips } = read(
      file(
        '<node id="n" name="Crane"><translate sid="lift">1 2 3</translate><rotate sid="turn">0 0 1 0</rotate></node>',
        library,
      ),
    );
    expect(clips.map((clip) => clip.name)).toEqual(['Lift', 'Turn']);
    expect([...(clips[0].tracks.find((track) => track.path === 'translation')?.values ?? [])]).toEqual([
      1, 2, 0, 1, 2, 4,
    ]);
    const turned = clips[1].tracks.find((track) => track.path === 'rotation')?.values.slice(4) ?? [];
    expect(turned[2]).toBeCloseTo(Math.SQRT1_2, 6);
  });

  it.each([
    ['decimal commas', file('<node name="a"><translate>1,5 0 0</translate></node>'), 'decimal-comma'],
    ['entities', `<!DOCTYPE x [<!ENTITY a "aaaa">]>${file('<node name="&a;"/>')}`, 'xml-entities'],
    ['a node below itself', file('<node id="n" name="a"><instance_node url="#n"/></node>'), 'cyclic-nodes'],
    ['a joint that is not there', file(bones + carrier, mesh + skin('s0 elsewhere')), 'missing-joint'],
    [
      'a corner past its points',
      file('<node name="a"><instance_geometry url="#g"/></node>', mesh.replace('0 1 2</p>', '0 1 9</p>')),
      'bad-index',
    ],
    [
      'a promise of more values',
      file(
        '<node name="a"><instance_geometry url="#g"/></node>',
        mesh.replace('count="3" stride="3"', 'count="300000000" stride="3"'),
      ),
      'bad-length',
    ],
    ['broken XML', file('<node name="a">'), 'bad-xml'],
    ['another root', '<?xml version="1.0"?><svg/>', 'not-collada'],
  ])('refuses %s by name', (_case, text, code) => {
    const problem = refusalOf(() => read(text));
    expect(problem.code).toBe(code);
    expect(problem.place).toContain('quay.dae');
  });
});
