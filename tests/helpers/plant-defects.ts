import type { Animation, Document, Node, Primitive } from '@gltf-transform/core';
import { KHRLightsPunctual, KHRMaterialsClearcoat } from '@gltf-transform/extensions';
import sharp from 'sharp';
import { EngineProfileSchema, type EngineProfile } from '@/core/profile/profile';
import { TIDEWATER } from '@/core/profile/shipped';
import type { RepairKind } from '@/core/repairs/repair-kinds';

/** A clean character in which a defect is planted. */
export interface Patient {
  readonly document: Document;
  /** Node of a role's bone. */
  readonly bone: (role: string) => Node;
  readonly primitive: Primitive;
  readonly part: string;
}

export interface Defect {
  /** Start of the key of the finding that must come. */
  readonly finds: string;
  /** Plants it. @returns names that the finding must name, among its bones or parts. */
  readonly plant: (patient: Patient) => readonly string[] | Promise<readonly string[]>;
  /** What must mend it; null where only a person can. */
  readonly repair: RepairKind | null;
  readonly profile?: EngineProfile;
}

/** Tidewater with something changed. */
const profileWith = (change: object): EngineProfile =>
  EngineProfileSchema.parse({ ...structuredClone(TIDEWATER), id: 'patient', ...change });
const limited = (change: object): EngineProfile => profileWith({ limits: { ...TIDEWATER.limits, ...change } });

const arrayOf = (primitive: Primitive, name: string): Float32Array | Uint16Array | Uint8Array => {
  const array = primitive.getAttribute(name)?.getArray();
  if (!array) throw new Error(`no ${name}`);
  return array as Float32Array;
};

/** Puts whole numbers and shares into attributes of their own: others may share the ones that were there. */
function weightsOf({ primitive, document }: Patient): { joints: Uint16Array; weights: Float32Array } {
  const joints = Uint16Array.from(arrayOf(primitive, 'JOINTS_0'));
  const given = primitive.getAttribute('WEIGHTS_0');
  const count = joints.length / 4;
  const weights = new Float32Array(count * 4);
  for (let vertex = 0; vertex < count; vertex++) weights.set(given?.getElement(vertex, [0, 0, 0, 0]) ?? [], vertex * 4);
  const [buffer] = document.getRoot().listBuffers();
  primitive
    .setAttribute('JOINTS_0', document.createAccessor().setType('VEC4').setArray(joints).setBuffer(buffer))
    .setAttribute('WEIGHTS_0', document.createAccessor().setType('VEC4').setArray(weights).setBuffer(buffer));
  return { joints, weights };
}

const jointOf = ({ document }: Patient, node: Node): number =>
  document.getRoot().listSkins()[0].listJoints().indexOf(node);

/** Vertex that a bone moves most, and where it is in the list. */
function vertexOf(patient: Patient, role: string): number {
  const joint = jointOf(patient, patient.bone(role));
  const joints = arrayOf(patient.primitive, 'JOINTS_0');
  for (let at = 0; at < joints.length; at += 4) if (joints[at] === joint) return at / 4;
  throw new Error(`no vertex is led by ${role}`);
}

function clip(patient: Patient, name: string, channels: readonly [Node, string, number[], number[]][]): Animation {
  const { document } = patient;
  const [buffer] = document.getRoot().listBuffers();
  const animation = document.createAnimation(name);
  for (const [node, path, times, values] of channels) {
    const input = document.createAccessor().setType('SCALAR').setArray(new Float32Array(times)).setBuffer(buffer);
    const type = path === 'rotation' ? 'VEC4' : 'VEC3';
    const output = document.createAccessor().setType(type).setArray(new Float32Array(values)).setBuffer(buffer);
    const sampler = document.createAnimationSampler().setInput(input).setOutput(output).setInterpolation('LINEAR');
    const channel = document
      .createAnimationChannel()
      .setTargetNode(node)
      .setTargetPath(path as 'rotation');
    animation.addSampler(sampler).addChannel(channel.setSampler(sampler));
  }
  return animation;
}
const turns = (node: Node, times: readonly number[]): [Node, string, number[], number[]] => [
  node,
  'rotation',
  [...times],
  times.flatMap((_, at) => [0, 0, Math.sin(at * 0.1), Math.cos(at * 0.1)]),
];

function box(patient: Patient, name: string): Node {
  const { document, primitive } = patient;
  const plain = document
    .createPrimitive()
    .setAttribute('POSITION', primitive.getAttribute('POSITION'))
    .setIndices(primitive.getIndices())
    .setMaterial(primitive.getMaterial());
  const node = document.createNode(name).setMesh(document.createMesh(name).addPrimitive(plain));
  document.getRoot().listScenes()[0].addChild(node);
  return node;
}

async function picture(
  patient: Patient,
  width: number,
  height: number,
  type: 'png' | 'webp' = 'png',
): Promise<string[]> {
  const image = sharp({ create: { width, height, channels: 3, background: '#446' } });
  const bytes = new Uint8Array(await (type === 'png' ? image.png() : image.webp()).toBuffer());
  const texture = patient.document.createTexture('tide cloth').setImage(bytes).setMimeType(`image/${type}`);
  patient.primitive.getMaterial()?.setBaseColorTexture(texture);
  return ['tide cloth'];
}

/** A second skeleton at the places of the first one's arm, hung on nothing. */
function copiedArm(patient: Patient): Node[] {
  const { document } = patient;
  const roles = ['leftUpperArm', 'leftLowerArm', 'leftHand', 'rightUpperArm', 'rightLowerArm', 'rightHand'];
  const top = document.createNode('coat');
  document.getRoot().listScenes()[0].addChild(top);
  const made = roles.map((role) => {
    const own = patient.bone(role);
    const copy = document.createNode(`${own.getName()}.coat`);
    return [own, copy] as const;
  });
  made.forEach(([own, copy]) => {
    const parent = made.find(([above]) => above === own.getParentNode())?.[1];
    copy.setMatrix((parent ? own.getMatrix() : own.getWorldMatrix()) as never);
    (parent ?? top).addChild(copy);
    bind(patient, copy);
  });
  return made.map(([, copy]) => copy);
}

/** Makes a node a joint of the first skin. */
function bind({ document }: Patient, node: Node): void {
  const [skin] = document.getRoot().listSkins();
  const inverse = skin.getInverseBindMatrices();
  if (!inverse) throw new Error('no matrices');
  const count = skin.listJoints().length;
  const values = new Float32Array((count + 1) * 16);
  for (let at = 0; at < count; at++) values.set(inverse.getElement(at, []), at * 16);
  const [x, y, z] = node.getWorldTranslation();
  values.set([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, -x, -y, -z, 1], count * 16);
  skin.addJoint(node);
  const [buffer] = document.getRoot().listBuffers();
  skin.setInverseBindMatrices(document.createAccessor().setType('MAT4').setArray(values).setBuffer(buffer));
}

const addTarget = (patient: Patient, name: string, reach: number): void => {
  const { document, primitive } = patient;
  const count = primitive.getAttribute('POSITION')?.getCount() ?? 0;
  const deltas = new Float32Array(count * 3);
  deltas[1] = reach;
  const [buffer] = document.getRoot().listBuffers();
  const target = document
    .createPrimitiveTarget(name)
    .setAttribute('POSITION', document.createAccessor().setType('VEC3').setArray(deltas).setBuffer(buffer));
  const [mesh] = document
    .getRoot()
    .listMeshes()
    .filter((each) => each.listPrimitives().includes(primitive));
  for (const each of mesh.listPrimitives()) {
    if (each === primitive) each.addTarget(target);
    else {
      const other = each.getAttribute('POSITION')?.getCount() ?? 0;
      const still = document
        .createAccessor()
        .setType('VEC3')
        .setArray(new Float32Array(other * 3))
        .setBuffer(buffer);
      each.addTarget(document.createPrimitiveTarget(name).setAttribute('POSITION', still));
    }
  }
  mesh.setExtras({
    targetNames: mesh
      .listPrimitives()[0]
      .listTargets()
      .map((each) => each.getName()),
  });
};

/** Every kind of defect that the checks look for, each by itself. */
export const DEFECTS: Readonly<Record<string, Defect>> = {
  'a vertex without weight': {
    finds: 'loose-vertices/unweighted',
    plant: (patient) => {
      weightsOf(patient).weights.fill(0, 40, 44);
      return [patient.part];
    },
    repair: 'bind-loose-vertices',
  },
  'weights that are not normalised': {
    finds: 'weight-sum/sum',
    plant: (patient) => {
      const { weights } = weightsOf(patient);
      for (let at = 0; at < 40; at++) weights[at] *= 0.6;
      return [patient.part];
    },
    repair: 'normalise-weights',
  },
  'more influences than the engine adds up': {
    finds: 'influences/vertex',
    plant: (patient) => {
      const { document, primitive } = patient;
      const { weights } = weightsOf(patient);
      const joints = arrayOf(primitive, 'JOINTS_0');
      const [more, shares] = [new Uint16Array(joints.length), new Float32Array(joints.length)];
      for (let slot = 0; slot < 4; slot++) {
        [more[slot], shares[slot]] = [20 + slot, 0.1];
        weights[slot] *= 0.6;
      }
      for (let slot = 0; slot < 4; slot++) if (weights[slot] === 0) [joints[slot], weights[slot]] = [30 + slot, 0.05];
      const [buffer] = document.getRoot().listBuffers();
      primitive
        .setAttribute('JOINTS_1', document.createAccessor().setType('VEC4').setArray(more).setBuffer(buffer))
        .setAttribute('WEIGHTS_1', document.createAccessor().setType('VEC4').setArray(shares).setBuffer(buffer));
      return [patient.part];
    },
    repair: 'reduce-influences',
  },
  'weight on the root': {
    finds: 'root-weights/root',
    plant: (patient) => {
      const root = patient.bone('hips').getParentNode() as Node;
      const { joints } = weightsOf(patient);
      joints[vertexOf(patient, 'leftHand') * 4] = jointOf(patient, root);
      return [root.getName()];
    },
    repair: 'move-root-weights',
  },
  'weight on a bone of the other side': {
    finds: 'stray-weights/side',
    plant: (patient) => {
      const vertex = vertexOf(patient, 'leftHand');
      const { joints } = weightsOf(patient);
      joints[vertex * 4] = jointOf(patient, patient.bone('rightHand'));
      return [patient.bone('rightHand').getName()];
    },
    repair: 'move-stray-weights',
  },
  'weights that the engine rounds away': {
    finds: 'least-weight/small',
    profile: limited({ leastWeight: 0.02 }),
    plant: (patient) => {
      const { weights, joints } = weightsOf(patient);
      const vertex = vertexOf(patient, 'leftHand') * 4;
      weights.set([0.995, 0.005, 0, 0], vertex);
      joints[vertex + 1] = jointOf(patient, patient.bone('leftLowerArm'));
      return [patient.part];
    },
    repair: 'prune-weights',
  },
  'a required bone that moves nothing': {
    finds: 'idle-roles/idle',
    plant: (patient) => {
      const [from, to] = [patient.bone('rightLowerLeg'), patient.bone('rightUpperLeg')].map((node) =>
        jointOf(patient, node),
      );
      for (const mesh of patient.document.getRoot().listMeshes())
        for (const primitive of mesh.listPrimitives()) {
          const joints = primitive.getAttribute('JOINTS_0')?.getArray();
          joints?.forEach((joint: number, at: number) => joint === from && (joints[at] = to));
        }
      return [patient.bone('rightLowerLeg').getName()];
    },
    repair: null,
  },
  'a bone far outside the mesh': {
    finds: 'far-bone/outside',
    plant: (patient) => {
      const stray = patient.document.createNode('mooring').setTranslation([6, 0, 0]);
      patient.bone('hips').addChild(stray);
      bind(patient, stray);
      const { joints } = weightsOf(patient);
      joints[vertexOf(patient, 'leftHand') * 4] = jointOf(patient, stray);
      return ['mooring'];
    },
    repair: null,
  },
  'two bones at one place': {
    finds: 'same-place/pair',
    plant: (patient) => {
      const twin = patient.document.createNode('lantern hook');
      const [hand, arm] = [patient.bone('leftHand'), patient.bone('leftUpperArm')];
      arm.addChild(twin);
      const [a, b] = [hand.getWorldTranslation(), arm.getWorldMatrix()];
      const d = [a[0] - b[12], a[1] - b[13], a[2] - b[14]];
      const column = (at: number) => d[0] * b[at] + d[1] * b[at + 1] + d[2] * b[at + 2];
      twin.setTranslation([column(0), column(4), column(8)]);
      bind(patient, twin);
      const { joints } = weightsOf(patient);
      joints[vertexOf(patient, 'leftHand') * 4] = jointOf(patient, twin);
      return ['lantern hook', hand.getName()];
    },
    repair: null,
  },
  'a segment without length': {
    finds: 'zero-length/segment',
    plant: (patient) => {
      patient.bone('rightFoot').setTranslation([0, 0, 0]);
      return [patient.bone('rightLowerLeg').getName()];
    },
    repair: null,
  },
  'a vertex that is no number': {
    finds: 'finite/vertices',
    plant: (patient) => {
      const positions = arrayOf(patient.primitive, 'POSITION');
      positions[30] = NaN;
      return [patient.part];
    },
    repair: 'drop-vertices',
  },
  'an inverse bind matrix that cannot be inverted': {
    finds: 'binds/degenerate',
    plant: (patient) => {
      const [skin] = patient.document.getRoot().listSkins();
      const joint = jointOf(patient, patient.bone('leftLowerLeg'));
      skin.getInverseBindMatrices()?.setElement(joint, new Array<number>(16).fill(0));
      return [patient.bone('leftLowerLeg').getName()];
    },
    repair: 'mend-binds',
  },
  'a joint without inverse bind matrix': {
    finds: 'binds/missing',
    plant: (patient) => {
      const [skin] = patient.document.getRoot().listSkins();
      const inverse = skin.getInverseBindMatrices();
      const array = inverse?.getArray();
      if (!inverse || !array) throw new Error('no matrices');
      inverse.setArray(array.slice(0, -16));
      const joints = skin.listJoints();
      return [joints[joints.length - 1].getName()];
    },
    repair: 'mend-binds',
  },
  'inverse bind matrices of no joint': {
    finds: 'binds/unreferenced',
    plant: (patient) => {
      const [skin] = patient.document.getRoot().listSkins();
      const inverse = skin.getInverseBindMatrices();
      const array = inverse?.getArray();
      if (!inverse || !array) throw new Error('no matrices');
      const more = new Float32Array(array.length + 16);
      more.set(array);
      more.set([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1], array.length);
      inverse.setArray(more);
      return [];
    },
    repair: 'mend-binds',
  },
  'a joint before its parent': {
    finds: 'joint-order/order',
    plant: (patient) => {
      const [skin] = patient.document.getRoot().listSkins();
      const joints = skin.listJoints();
      const order = [...joints].reverse();
      const matrices = skin.getInverseBindMatrices();
      const values = order.map((joint) => matrices?.getElement(joints.indexOf(joint), []) ?? []);
      joints.forEach((joint) => skin.removeJoint(joint));
      order.forEach((joint) => skin.addJoint(joint));
      values.forEach((value, at) => matrices?.setElement(at, value));
      for (const mesh of patient.document.getRoot().listMeshes())
        for (const primitive of mesh.listPrimitives()) {
          const array = primitive.getAttribute('JOINTS_0')?.getArray();
          array?.forEach((joint: number, at: number) => (array[at] = joints.length - 1 - joint));
        }
      return [];
    },
    repair: null,
  },
  'names that differ by case alone': {
    finds: 'bone-names/shared',
    plant: (patient) => {
      for (const [at, name] of ['Oar_Lock', 'oar_lock'].entries()) {
        const node = patient.document.createNode(name).setTranslation([0.01 * at, 0.1, 0]);
        patient.bone('hips').addChild(node);
      }
      return ['Oar_Lock', 'oar_lock'];
    },
    repair: null,
  },
  'a name with letters that are refused': {
    finds: 'bone-names/illegal',
    plant: (patient) => {
      patient.bone('hips').addChild(patient.document.createNode('oar lock!').setTranslation([0, 0.1, 0]));
      return ['oar lock!'];
    },
    repair: null,
  },
  'a name that is too long': {
    finds: 'bone-names/long',
    plant: (patient) => {
      const name = `oar_${'y'.repeat(70)}`;
      patient.bone('hips').addChild(patient.document.createNode(name).setTranslation([0, 0.1, 0]));
      return [name];
    },
    repair: null,
  },
  'a name that is reserved': {
    finds: 'bone-names/reserved',
    profile: profileWith({ names: { ...TIDEWATER.names, reserved: ['harbour'] } }),
    plant: (patient) => {
      patient.bone('hips').addChild(patient.document.createNode('harbour').setTranslation([0, 0.1, 0]));
      return ['harbour'];
    },
    repair: null,
  },
  'a name without the prefix': {
    finds: 'bone-names/style',
    profile: profileWith({
      names: { ...TIDEWATER.names, prefix: 'gt_' },
      helpers: [],
      attachments: [],
    }),
    plant: (patient) => {
      patient.bone('hips').addChild(patient.document.createNode('oar').setTranslation([0, 0.1, 0]));
      return ['oar'];
    },
    repair: null,
  },
  'a clip that only holds the rest': {
    finds: 'rest-keys/leftover',
    plant: (patient) => {
      const arm = patient.bone('leftUpperArm');
      const rest = arm.getRotation();
      clip(patient, 'left over', [[arm, 'rotation', [0, 1], [...rest, ...rest]]]);
      return ['left over', arm.getName()];
    },
    repair: 'drop-rest-keys',
  },
  'a clip that keys no bone of the figure': {
    finds: 'foreign-clips/none',
    plant: (patient) => {
      const buoy = box(patient, 'buoy');
      clip(patient, 'drift', [[buoy, 'translation', [0, 1], [0, 0, 0, 1, 0, 0]]]);
      // Moved by a clip it would count as a bone; the clip is of another scene.
      buoy.dispose();
      return ['drift'];
    },
    repair: 'drop-foreign-clips',
  },
  'keys out of order': {
    finds: 'key-order/order',
    plant: (patient) => {
      clip(patient, 'stumble', [turns(patient.bone('leftUpperArm'), [0, 0.6, 0.3, 0.9])]);
      return ['stumble', patient.bone('leftUpperArm').getName()];
    },
    repair: 'sort-keys',
  },
  'a clip at another rate': {
    finds: 'clip-rate/rate',
    profile: profileWith({ clips: { ...TIDEWATER.clips, framesPerSecond: 30 } }),
    plant: (patient) => {
      const times = Array.from({ length: 25 }, (_, at) => at / 24);
      clip(patient, 'film', [turns(patient.bone('leftUpperArm'), times)]);
      return ['film'];
    },
    repair: 'resample-clips',
  },
  'a clip that is too long': {
    finds: 'clip-rate/length',
    profile: profileWith({ clips: { ...TIDEWATER.clips, seconds: { least: 0, most: 2 } } }),
    plant: (patient) => {
      clip(patient, 'tide', [turns(patient.bone('leftUpperArm'), [0, 1, 2, 3])]);
      return ['tide'];
    },
    repair: null,
  },
  'travel in the hips': {
    finds: 'clip-travel/travel',
    profile: profileWith({ clips: { ...TIDEWATER.clips, travel: 'root' } }),
    plant: (patient) => {
      const hips = patient.bone('hips');
      const [x, y, z] = hips.getTranslation();
      clip(patient, 'march', [[hips, 'translation', [0, 1], [x, y, z, x, y, z + 3]]]);
      return ['march', hips.getName()];
    },
    repair: null,
  },
  'a texture whose sides are no powers of two': {
    finds: 'textures/power',
    plant: (patient) => picture(patient, 100, 64),
    repair: 'resize-textures',
  },
  'a texture that is too large': {
    finds: 'textures/size',
    profile: limited({ textureSize: 256 }),
    plant: (patient) => picture(patient, 512, 512),
    repair: 'resize-textures',
  },
  'a texture in another format': {
    finds: 'textures/type',
    profile: profileWith({ textures: { isPowerOfTwo: false, types: ['image/jpeg'] } }),
    plant: (patient) => picture(patient, 64, 64),
    repair: null,
  },
  'a double-sided material': {
    finds: 'materials/double-sided',
    profile: profileWith({ materials: { doubleSided: false, extensions: null } }),
    plant: ({ primitive }) => {
      const material = primitive.getMaterial();
      material?.setDoubleSided(true);
      return [material?.getName() ?? ''];
    },
    repair: 'single-sided',
  },
  'a material that the engine does not know': {
    finds: 'materials/unknown',
    plant: ({ document, primitive }) => {
      const coat = document.createExtension(KHRMaterialsClearcoat).createClearcoat().setClearcoatFactor(1);
      const material = primitive.getMaterial();
      material?.setExtension('KHR_materials_clearcoat', coat);
      return [material?.getName() ?? ''];
    },
    repair: null,
  },
  'too many materials': {
    finds: 'materials/count',
    profile: limited({ materials: 1 }),
    plant: ({ document, primitive }) => {
      primitive.setMaterial(document.createMaterial('spare cloth'));
      return ['spare cloth'];
    },
    repair: null,
  },
  'a part without material': {
    finds: 'materials/none',
    plant: (patient) => {
      patient.primitive.setMaterial(null);
      return [patient.part];
    },
    repair: null,
  },
  'a part that is bound to nothing': {
    finds: 'static-parts/unbound',
    plant: (patient) => {
      box(patient, 'crate');
      return ['crate'];
    },
    repair: 'hang-static-parts',
  },
  'a second tree of bones': {
    finds: 'further-roots/trees',
    plant: (patient) => {
      const raft = patient.document.createNode('raft').setTranslation([1, 0, 0]);
      raft.addChild(patient.document.createNode('mast').setTranslation([0, 1, 0]));
      patient.document.getRoot().listScenes()[0].addChild(raft);
      bind(patient, raft);
      return ['raft'];
    },
    repair: 'drop-extras',
  },
  'skins on different trees': {
    finds: 'skins-apart/trees',
    plant: (patient) => {
      const { document } = patient;
      const raft = document.createNode('raft').setTranslation([1, 0, 0]);
      document.getRoot().listScenes()[0].addChild(raft);
      const [buffer] = document.getRoot().listBuffers();
      const own = new Float32Array([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]);
      const skin = document.createSkin('raft skin').addJoint(raft);
      skin.setInverseBindMatrices(document.createAccessor().setType('MAT4').setArray(own).setBuffer(buffer));
      const node = box(patient, 'sail').setSkin(skin);
      const [sail] = node.getMesh()?.listPrimitives() ?? [];
      const count = sail.getAttribute('POSITION')?.getCount() ?? 0;
      const ones = Float32Array.from({ length: count * 4 }, (_, at) => (at % 4 === 0 ? 1 : 0));
      sail
        .setAttribute(
          'JOINTS_0',
          document
            .createAccessor()
            .setType('VEC4')
            .setArray(new Uint16Array(count * 4))
            .setBuffer(buffer),
        )
        .setAttribute('WEIGHTS_0', document.createAccessor().setType('VEC4').setArray(ones).setBuffer(buffer));
      return ['raft', 'raft skin'];
    },
    repair: null,
  },
  'clothing with a skeleton of its own': {
    finds: 'copied-skeleton/copies',
    plant: (patient) => copiedArm(patient).map((node) => node.getName()),
    repair: 'fold-copies',
  },
  'a camera': {
    finds: 'extras/camera',
    plant: ({ document }) => {
      const camera = document.createCamera('lens').setType('perspective').setZFar(100).setZNear(0.1).setYFov(1);
      document.getRoot().listScenes()[0].addChild(document.createNode('lookout').setCamera(camera));
      return ['lookout'];
    },
    repair: null,
  },
  'a light': {
    finds: 'extras/light',
    plant: ({ document }) => {
      const light = document.createExtension(KHRLightsPunctual).createLight('lamp').setType('point');
      const node = document.createNode('beacon').setExtension('KHR_lights_punctual', light);
      document.getRoot().listScenes()[0].addChild(node);
      return ['beacon'];
    },
    repair: null,
  },
  'a stray top node': {
    finds: 'extras/stray-root',
    plant: ({ document }) => {
      document.getRoot().listScenes()[0].addChild(document.createNode('left behind'));
      return ['left behind'];
    },
    repair: null,
  },
  'too many vertices in a mesh': {
    finds: 'mesh-size/vertices',
    profile: limited({ verticesPerMesh: 300 }),
    plant: ({ part }) => [part],
    repair: 'split-parts',
  },
  'too many triangles in a mesh': {
    finds: 'mesh-size/triangles',
    profile: limited({ trianglesPerMesh: 200 }),
    plant: ({ part }) => [part],
    repair: 'split-parts',
  },
  'too many bones in one draw': {
    finds: 'bones-per-draw/draw',
    profile: limited({ bonesPerDraw: 8 }),
    plant: ({ part }) => [part],
    repair: 'split-parts',
  },
  'too many bones': {
    finds: 'bone-count/skeleton',
    profile: limited({ bonesPerSkeleton: 90, bonesPerDraw: 64 }),
    plant: (patient) => {
      let at = patient.bone('head');
      for (let each = 0; each < 60; each++) {
        const next = patient.document.createNode(`feather_${each}`).setTranslation([0, 0.01, 0]);
        at.addChild(next);
        at = next;
      }
      return [];
    },
    repair: 'drop-leftover-bones',
  },
  'a morph target that moves nothing': {
    finds: 'morphs/empty',
    plant: (patient) => {
      addTarget(patient, 'wink', 0);
      return ['wink'];
    },
    repair: 'drop-empty-morphs',
  },
  'morph targets that are missing': {
    finds: 'morphs/missing',
    profile: profileWith({ morphs: ['smileLeft', 'jawOpen'] }),
    plant: (patient) => {
      addTarget(patient, 'smile_L', 0.02);
      return ['jawOpen'];
    },
    repair: null,
  },
  'too many morph targets': {
    finds: 'morphs/count',
    profile: limited({ morphTargets: 1 }),
    plant: (patient) => {
      addTarget(patient, 'smile', 0.02);
      addTarget(patient, 'frown', 0.03);
      return ['smile', 'frown'];
    },
    repair: null,
  },
  'an uneven scale': {
    finds: 'bone-scale/uneven',
    plant: (patient) => {
      patient.bone('leftUpperArm').setScale([1.4, 1, 1]);
      return [patient.bone('leftUpperArm').getName()];
    },
    repair: 'apply-scale',
  },
  'a negative scale': {
    finds: 'bone-scale/negative',
    plant: (patient) => {
      patient.bone('leftHand').setScale([-1, 1, 1]);
      return [patient.bone('leftHand').getName()];
    },
    repair: 'apply-scale',
  },
  'a uniform scale': {
    finds: 'bone-scale/uniform',
    plant: (patient) => {
      patient.bone('head').setScale([1.2, 1.2, 1.2]);
      return [patient.bone('head').getName()];
    },
    repair: null,
  },
  'a height out of range': {
    finds: 'proportions/height',
    profile: profileWith({ heightMetres: { least: 0.5, most: 1.2 } }),
    plant: () => [],
    repair: 'scale-to-height',
  },
  'arms that are too long': {
    finds: 'proportions/span',
    profile: profileWith({ ratios: { span: { least: 0.1, most: 0.3 }, legs: null } }),
    plant: () => [],
    repair: null,
  },
  'other bone axes': {
    finds: 'bone-axes/axes',
    profile: profileWith({ axes: { along: '+X', hinge: '+Z', isMirrored: true } }),
    plant: (patient) => [patient.bone('leftUpperArm').getName()],
    repair: 're-orient',
  },
  'a root that is turned': {
    finds: 'root-turn/turned',
    profile: profileWith({ rootTurnDegrees: 1, axes: { along: '+X', hinge: '+Z', isMirrored: false } }),
    plant: (patient) => {
      const root = patient.bone('hips').getParentNode() as Node;
      const hips = patient.bone('hips');
      const place = hips.getWorldTranslation();
      root.setRotation([0, Math.SQRT1_2, 0, Math.SQRT1_2]);
      hips.setRotation([0, -Math.SQRT1_2, 0, Math.SQRT1_2]).setTranslation([-place[2], place[1], place[0]]);
      return [root.getName()];
    },
    repair: 're-orient',
  },
  'a root where none may be': {
    finds: 'root-bone/forbidden',
    profile: profileWith({ rootBone: 'forbidden', helpers: [] }),
    plant: (patient) => [patient.bone('hips').getParentNode()?.getName() ?? ''],
    repair: null,
  },
  'a root away from the origin': {
    finds: 'root-bone/above-hips',
    plant: (patient) => {
      const root = patient.bone('hips').getParentNode() as Node;
      root.setTranslation([0.4, 0, 0]);
      const [x, y, z] = patient.bone('hips').getTranslation();
      patient.bone('hips').setTranslation([x - 0.4, y, z]);
      return [root.getName()];
    },
    repair: null,
  },
  'a licence that is not taken': {
    finds: 'licence/unknown',
    profile: profileWith({ licences: ['CC0', 'studio'] }),
    plant: () => [],
    repair: null,
  },
  'a level of detail that is no coarser': {
    finds: 'levels/counts',
    profile: profileWith({ levels: { sameSkeleton: true, fallingCounts: true } }),
    plant: (patient) => {
      const { document } = patient;
      const skin = document.getRoot().listSkins()[0];
      for (const level of [0, 1]) {
        const node = box(patient, `body_lod${level}`).setSkin(skin);
        const [part] = node.getMesh()?.listPrimitives() ?? [];
        for (const name of ['JOINTS_0', 'WEIGHTS_0']) part.setAttribute(name, patient.primitive.getAttribute(name));
      }
      return ['body_lod1'];
    },
    repair: null,
  },
  'a posture away from the reference': {
    finds: 'reference-pose/off-pose',
    plant: (patient) => {
      const arm = patient.bone('leftUpperArm');
      const [x, y, z, w] = arm.getRotation();
      const [s, c] = [Math.sin(0.3), Math.cos(0.3)];
      // About the world's front axis, before its own turn.
      const parent = (arm.getParentNode() as Node).getWorldRotation();
      const conjugated = [-parent[0], -parent[1], -parent[2], parent[3]];
      const product = (a: readonly number[], b: readonly number[]) => [
        a[3] * b[0] + a[0] * b[3] + a[1] * b[2] - a[2] * b[1],
        a[3] * b[1] - a[0] * b[2] + a[1] * b[3] + a[2] * b[0],
        a[3] * b[2] + a[0] * b[1] - a[1] * b[0] + a[2] * b[3],
        a[3] * b[3] - a[0] * b[0] - a[1] * b[1] - a[2] * b[2],
      ];
      const turn = product(product(conjugated, [0, 0, -s, c]), parent);
      arm.setRotation(product(turn, [x, y, z, w]) as never);
      return [arm.getName()];
    },
    repair: 'align-posture',
  },
};
