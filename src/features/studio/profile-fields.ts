import { AXIS_NAMES } from '@/core/frame/normalise';

/** A field of the editor: where it is in a profile, what it is for, and what one writes there. */
export interface ProfileField {
  readonly path: string;
  readonly label: string;
  readonly help: string;
  readonly example: string;
  readonly kind:
    | 'text'
    | 'number'
    /** A number, or empty for none. */
    | 'limit'
    | 'switch'
    /** Words one below the other; empty for none. */
    | 'list'
    /** The same, where empty means any. */
    | 'anyList'
    | { readonly oneOf: readonly string[] };
}

export interface FieldGroup {
  readonly title: string;
  readonly fields: readonly ProfileField[];
}

const field = (
  path: string,
  label: string,
  kind: ProfileField['kind'],
  example: string,
  help: string,
): ProfileField => ({ path, label, kind, example, help });
const axis = { oneOf: AXIS_NAMES } as const;

/** Everything that one line can hold; helpers, attachment points and ranges have editors of their own. */
export const FIELD_GROUPS: readonly FieldGroup[] = [
  {
    title: 'Space and file',
    fields: [
      field('up', 'Up', axis, '+Y', "The engine's up after its import."),
      field('facing', 'Facing', axis, '+Z', 'Where a character looks in the engine.'),
      field('handedness', 'Handedness', { oneOf: ['right', 'left'] }, 'right', 'Of the engine’s axes.'),
      field('metresPerUnit', 'Metres in a unit', 'number', '0.01', '1 for metres, 0.01 for centimetres.'),
      field('formats', 'Formats', 'list', 'glb', 'glb, vrm, fbx or collada; the first is written.'),
      field(
        'reads',
        'Pose that is read',
        { oneOf: ['bind', 'rest'] },
        'bind',
        'Which pose of the file is taken for the reference.',
      ),
      field('extraNodes', 'Extra nodes', 'switch', 'off', 'Whether nodes that are neither bone nor mesh may stay.'),
      field('cameras', 'Cameras', 'switch', 'off', 'Whether cameras may be in the file.'),
      field('lights', 'Lights', 'switch', 'off', 'Whether lights may be in the file.'),
      field('endBones', 'End bones', 'switch', 'off', 'Whether digits, head and toes must end in a bone.'),
      field('staticMeshes', 'Meshes without bones', 'switch', 'off', 'Off: a mesh that no bone moves is a blocker.'),
    ],
  },
  {
    title: 'Root and axes',
    fields: [
      field(
        'rootBone',
        'Root bone',
        { oneOf: ['required', 'optional', 'forbidden'] },
        'required',
        'A bone above the hips that the engine moves.',
      ),
      field(
        'rootOffsetMetres',
        'Root from the origin, m',
        'number',
        '0.01',
        'How far the root may stand from the floor origin.',
      ),
      field('rootTurnDegrees', 'Turn of the root, degrees', 'number', '1', '180 for any.'),
    ],
  },
  {
    title: 'Names',
    fields: [
      field(
        'names.allowed',
        'Pattern',
        'text',
        '^[A-Za-z_][A-Za-z0-9_]*$',
        'Regular expression that is found in every name that may stay; looking ahead or behind is not possible.',
      ),
      field('names.allowedInWords', 'In words', 'text', 'letters, digits and underscores', 'As findings say it.'),
      field('names.maxLength', 'Longest', 'number', '60', 'Characters.'),
      field('names.letters', 'Case', { oneOf: ['any', 'lower', 'upper'] }, 'any', 'Case of all letters.'),
      field('names.prefix', 'Prefix', 'text', 'gt_', 'What every name starts with; may be empty.'),
      field('names.reserved', 'Reserved', 'list', 'world', 'Names that the engine keeps for itself.'),
    ],
  },
  {
    title: 'Limits',
    fields: [
      field('limits.bonesPerSkeleton', 'Bones', 'limit', '256', 'Of a skeleton.'),
      field('limits.bonesPerDraw', 'Bones in a draw', 'limit', '128', 'That move one part of the mesh.'),
      field('limits.influences', 'Bones for a vertex', 'limit', '4', 'How many weights a vertex keeps.'),
      field('limits.weightSum', 'Weights off 1 by', 'number', '0.01', 'How far the sum of a vertex may be from 1.'),
      field('limits.leastWeight', 'Least weight', 'number', '0.01', 'Below this a weight is rounded away; 0 for none.'),
      field('limits.verticesPerMesh', 'Vertices in a part', 'limit', '65535', 'What one buffer holds.'),
      field('limits.trianglesPerMesh', 'Triangles in a part', 'limit', '40000', 'Of one mesh part.'),
      field('limits.materials', 'Materials', 'limit', '8', 'Of a character.'),
      field('limits.textureSize', 'Longest side of a texture', 'limit', '2048', 'Pixels.'),
      field('limits.morphTargets', 'Morph targets', 'limit', '64', 'Of a character.'),
      field('boneScaleTolerance', 'Scale off 1 by', 'number', '0.001', 'Scales of bones within this pass.'),
    ],
  },
  {
    title: 'Textures and materials',
    fields: [
      field('textures.isPowerOfTwo', 'Powers of two', 'switch', 'on', 'Whether sides must be 2, 4, 8 …'),
      field('textures.types', 'Texture formats', 'anyList', 'image/png', 'Media types; empty for any.'),
      field('materials.doubleSided', 'Double-sided', 'switch', 'on', 'Whether materials may be drawn from both sides.'),
      field(
        'materials.extensions',
        'Material extensions',
        'anyList',
        'KHR_materials_unlit',
        'That the engine draws; empty for any.',
      ),
    ],
  },
  {
    title: 'Character and clips',
    fields: [
      field(
        'requiredRoles',
        'Further required roles',
        'list',
        'leftToes',
        'Beyond those that the definition requires.',
      ),
      field('poseDegrees', 'Off the reference pose, degrees', 'limit', '3', 'Empty: the tolerances of the definition.'),
      field('clips.framesPerSecond', 'Frames a second', 'limit', '30', 'Empty for any.'),
      field('morphs', 'Morph targets that are driven', 'list', 'eyeBlinkLeft', 'By the names that the engine uses.'),
      field('licences', 'Licence terms', 'anyList', 'CC0', 'A licence must name one of them; empty for any.'),
    ],
  },
];

const partsOf = (path: string): string[] => path.split('.');

/** A value of a profile by its path. */
export const valueAt = (profile: object, path: string): unknown =>
  partsOf(path).reduce<unknown>((at, key) => (at as Record<string, unknown> | null)?.[key], profile);

/** What a form shows of a profile: text for everything but switches. */
export function formOf(profile: object): Record<string, string | boolean> {
  return Object.fromEntries(
    FIELD_GROUPS.flatMap(({ fields }) => fields).map(({ path, kind }) => {
      const value = valueAt(profile, path);
      if (kind === 'switch') return [nameOf(path), value === true];
      if (Array.isArray(value)) return [nameOf(path), value.join('\n')];
      return [nameOf(path), value === null || value === undefined ? '' : String(value as string | number)];
    }),
  );
}

/** A form's name for a path: dots mean nesting there. */
export const nameOf = (path: string): string => path.replaceAll('.', '/');

/** The profile with what a form says; not yet checked. */
export function withForm(profile: object, form: Readonly<Record<string, string | boolean>>): unknown {
  const next = structuredClone(profile) as Record<string, unknown>;
  for (const { path, kind } of FIELD_GROUPS.flatMap(({ fields }) => fields)) {
    const keys = partsOf(path);
    const last = keys[keys.length - 1];
    let at = next;
    for (const key of keys.slice(0, -1)) at = at[key] as Record<string, unknown>;
    const value = read(kind, form[nameOf(path)] ?? '');
    // A switch that a profile does not have is off, and stays away while it is.
    if (value !== false || at[last] !== undefined) at[last] = value;
  }
  return next;
}

function read(kind: ProfileField['kind'], given: string | boolean): unknown {
  if (typeof given === 'boolean') return given;
  const text = given.trim();
  if (kind === 'number') return text === '' ? undefined : Number(text);
  if (kind === 'limit') return text === '' ? null : Number(text);
  if (kind === 'list' || kind === 'anyList') {
    const words = text
      .split(/\n/)
      .map((word) => word.trim())
      .filter(Boolean);
    return words.length === 0 && kind === 'anyList' ? null : words;
  }
  return text;
}
