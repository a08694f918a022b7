import { EngineProfileSchema, type EngineProfile } from './profile';

/** The shipped engine target of *Low Tide Lanterns*: Y up, metres, GLB, a root and targets for feet and hands. */
export const TIDEWATER: EngineProfile = EngineProfileSchema.parse({
  id: 'tidewater',
  label: 'Tidewater',
  version: 3,
  up: '+Y',
  facing: '+Z',
  metresPerUnit: 1,
  formats: ['glb'],
  extraNodes: false,
  cameras: false,
  lights: false,
  rootBone: 'required',
  rootOffsetMetres: 0.01,
  helpers: [
    { name: 'target_left_foot', parent: 'root', place: { kind: 'floor', role: 'leftFoot' } },
    { name: 'target_right_foot', parent: 'root', place: { kind: 'floor', role: 'rightFoot' } },
    { name: 'target_left_hand', parent: 'root', place: { kind: 'at', role: 'leftHand' } },
    { name: 'target_right_hand', parent: 'root', place: { kind: 'at', role: 'rightHand' } },
  ],
  attachments: [
    { name: 'carry_left_hand', parent: 'leftHand', place: { kind: 'at', role: 'leftHand' } },
    { name: 'carry_right_hand', parent: 'rightHand', place: { kind: 'at', role: 'rightHand' } },
  ],
  names: {
    allowed: '^[A-Za-z_][A-Za-z0-9_]*$',
    allowedInWords: 'letters, digits and underscores',
    maxLength: 60,
  },
  limits: {
    bonesPerSkeleton: 256,
    bonesPerDraw: 128,
    influences: 4,
    verticesPerMesh: 65_535,
    trianglesPerMesh: 120_000,
    materials: 12,
    textureSize: 4096,
    morphTargets: 120,
  },
  boneScaleTolerance: 0.001,
  textures: { isPowerOfTwo: true, types: ['image/png', 'image/jpeg'] },
  materials: { doubleSided: true, extensions: ['KHR_materials_unlit', 'KHR_texture_transform'] },
  clips: { seconds: { least: 0, most: 600 } },
  // From a child of the town to a man on stilts.
  heightMetres: { least: 0.8, most: 2.9 },
});

/** The second one: an older engine, Z up, centimetres, with small limits and bone axes of its own. */
export const EBB: EngineProfile = EngineProfileSchema.parse({
  id: 'ebb',
  label: 'Ebb',
  version: 1,
  up: '+Z',
  facing: '-Y',
  metresPerUnit: 0.01,
  formats: ['collada', 'fbx'],
  reads: 'rest',
  extraNodes: false,
  cameras: false,
  lights: false,
  staticMeshes: false,
  rootBone: 'required',
  rootOffsetMetres: 0.01,
  rootTurnDegrees: 1,
  axes: { along: '+X', hinge: '+Z', isMirrored: true },
  names: {
    allowed: '^[A-Za-z][A-Za-z0-9_]*$',
    allowedInWords: 'a letter, then letters, digits and underscores',
    maxLength: 31,
    reserved: ['world', 'scene'],
  },
  limits: {
    bonesPerSkeleton: 64,
    bonesPerDraw: 48,
    influences: 4,
    leastWeight: 0.01,
    verticesPerMesh: 32_767,
    trianglesPerMesh: 40_000,
    materials: 8,
    textureSize: 1024,
    morphTargets: 32,
  },
  boneScaleTolerance: 0.001,
  textures: { isPowerOfTwo: true, types: ['image/png'] },
  materials: { doubleSided: false, extensions: ['KHR_materials_unlit'] },
  clips: { framesPerSecond: 30, seconds: { least: 0, most: 120 }, travel: 'root' },
  heightMetres: { least: 0.6, most: 3 },
});

export const SHIPPED_PROFILES: readonly EngineProfile[] = [TIDEWATER, EBB];
