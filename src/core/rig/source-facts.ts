import { z } from 'zod';

const SOURCE_FORMATS = ['glb', 'gltf', 'vrm', 'fbx', 'collada', 'bvh'] as const;
export type SourceFormat = (typeof SOURCE_FORMATS)[number];

const Text = z.string().max(2_000);

/** What a texture reference of the file came to. */
const TextureFactSchema = z.strictObject({
  /** The reference as the file writes it, or the image's name where it is embedded. */
  name: Text,
  status: z.enum(['embedded', 'resolved', 'missing', 'supplied']),
  /** What materials use it for: colour, normal ... */
  purposes: z.array(Text),
  bytes: z.int().nonnegative(),
  width: z.int().nonnegative(),
  height: z.int().nonnegative(),
});
export type TextureFact = z.infer<typeof TextureFactSchema>;

export const ProvenanceSchema = z.strictObject({ source: Text, author: Text, licence: Text, attribution: Text });
export type Provenance = z.infer<typeof ProvenanceSchema>;
export const NO_PROVENANCE: Provenance = { source: '', author: '', licence: '', attribution: '' };

/** What a file's header says about itself; null where it says nothing. Nothing here is measured. */
export const SourceFactsSchema = z.strictObject({
  format: z.enum(SOURCE_FORMATS),
  /** Version as the file writes it, "7.4 binary". */
  version: Text,
  generator: Text,
  /** Metres per unit. */
  unitMetres: z.number().positive().nullable(),
  up: z.enum(['+X', '-X', '+Y', '-Y', '+Z', '-Z']).nullable(),
  handedness: z.enum(['right', 'left']),
  provenance: ProvenanceSchema,
  /** Roles that the file itself states for its nodes (VRM's humanoid block): role -> node index. */
  statedRoles: z.record(z.string(), z.int().nonnegative()),
  expressions: z.array(Text),
  textures: z.array(TextureFactSchema),
  /** Nodes that the format itself calls joints. */
  jointNodes: z.array(z.int().nonnegative()),
  /** Takes: frames a second and where the first frame lies in the file's own time, by clip index. */
  clipRates: z.array(z.strictObject({ framesPerSecond: z.number().nonnegative(), startSeconds: z.number() })),
  remarks: z.array(Text),
});
export type SourceFacts = z.infer<typeof SourceFactsSchema>;

/** Facts of a plain glTF: metres, Y up, right-handed by its standard. */
export const gltfFacts = (change: Partial<SourceFacts> = {}): SourceFacts => ({
  format: 'glb',
  version: '2.0',
  generator: '',
  unitMetres: 1,
  up: '+Y',
  handedness: 'right',
  provenance: NO_PROVENANCE,
  statedRoles: {},
  expressions: [],
  textures: [],
  jointNodes: [],
  clipRates: [],
  remarks: [],
  ...change,
});
