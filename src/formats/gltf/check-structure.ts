import { z } from 'zod';
import { spendBytes } from '@/core/errors/byte-budget';
import { YarvoError } from '@/core/errors/yarvo-error';

/** Limits that keep a hostile file from claiming more than a character can need. */
const STRUCTURE_LIMITS = { nodes: 20_000, accessors: 100_000, elementCount: 20_000_000, depth: 1_000 } as const;

const Index = z.int().nonnegative();
const Numbers = (length: number) => z.array(z.number()).length(length);
const Named = { name: z.string().optional() };

const TextureInfo = z.looseObject({ index: Index }).optional();

/** The part of glTF 2.0 that Yarvo relies on; everything else passes through untouched. */
const GltfSchema = z.looseObject({
  asset: z.looseObject({ version: z.string(), generator: z.string().optional() }),
  scene: Index.optional(),
  scenes: z.array(z.looseObject({ nodes: z.array(Index).optional() })).optional(),
  nodes: z
    .array(
      z.looseObject({
        ...Named,
        children: z.array(Index).optional(),
        mesh: Index.optional(),
        skin: Index.optional(),
        camera: Index.optional(),
        matrix: Numbers(16).optional(),
        translation: Numbers(3).optional(),
        rotation: Numbers(4).optional(),
        scale: Numbers(3).optional(),
      }),
    )
    .optional(),
  skins: z
    .array(
      z.looseObject({
        joints: z.array(Index).min(1),
        inverseBindMatrices: Index.optional(),
        skeleton: Index.optional(),
      }),
    )
    .optional(),
  meshes: z
    .array(
      z.looseObject({
        primitives: z
          .array(
            z.looseObject({
              attributes: z.record(z.string(), Index),
              indices: Index.optional(),
              material: Index.optional(),
              targets: z.array(z.record(z.string(), Index)).optional(),
            }),
          )
          .min(1),
      }),
    )
    .optional(),
  accessors: z
    .array(
      z.looseObject({
        bufferView: Index.optional(),
        byteOffset: Index.optional(),
        componentType: z.union([
          z.literal(5120),
          z.literal(5121),
          z.literal(5122),
          z.literal(5123),
          z.literal(5125),
          z.literal(5126),
        ]),
        count: z.int().positive(),
        type: z.enum(['SCALAR', 'VEC2', 'VEC3', 'VEC4', 'MAT2', 'MAT3', 'MAT4']),
      }),
    )
    .optional(),
  bufferViews: z
    .array(
      z.looseObject({
        buffer: Index,
        byteOffset: Index.optional(),
        byteLength: z.int().positive(),
        byteStride: z.int().min(4).max(252).optional(),
      }),
    )
    .optional(),
  buffers: z.array(z.looseObject({ byteLength: z.int().positive(), uri: z.string().optional() })).optional(),
  images: z
    .array(
      z.looseObject({
        ...Named,
        uri: z.string().optional(),
        bufferView: Index.optional(),
        mimeType: z.string().optional(),
      }),
    )
    .optional(),
  textures: z.array(z.looseObject({ source: Index.optional(), sampler: Index.optional() })).optional(),
  materials: z
    .array(
      z.looseObject({
        pbrMetallicRoughness: z
          .looseObject({ baseColorTexture: TextureInfo, metallicRoughnessTexture: TextureInfo })
          .optional(),
        normalTexture: TextureInfo,
        occlusionTexture: TextureInfo,
        emissiveTexture: TextureInfo,
      }),
    )
    .optional(),
  cameras: z.array(z.looseObject({ type: z.string() })).optional(),
  animations: z
    .array(
      z.looseObject({
        channels: z.array(
          z.looseObject({ sampler: Index, target: z.looseObject({ node: Index.optional(), path: z.string() }) }),
        ),
        samplers: z.array(z.looseObject({ input: Index, output: Index })),
      }),
    )
    .optional(),
  extensionsRequired: z.array(z.string()).optional(),
});
export type GltfJson = z.infer<typeof GltfSchema>;

const COMPONENT_BYTES: Record<number, number> = { 5120: 1, 5121: 1, 5122: 2, 5123: 2, 5125: 4, 5126: 4 };
const COMPONENTS: Record<string, number> = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4, MAT2: 4, MAT3: 9, MAT4: 16 };

/** A check's outcome: nothing, or what is wrong and where. */
type Fault = { code: string; message: string; at: string } | null;

/** Bytes that are there for a buffer; throws where its data is in another file that is not at hand. */
export type BufferSize = (uri: string | undefined, index: number) => number;

/**
 * Checks everything a reader would otherwise trust: shapes, indices, ranges, cycles.
 * @throws {YarvoError} with the JSON path of the first fault.
 */
export function checkStructure(json: unknown, bufferSize: BufferSize, place: string): GltfJson {
  const version = (json as { asset?: { version?: unknown } } | null)?.asset?.version;
  // Version 1 has another layout; saying which field differs would only hide that.
  if (version !== undefined && !String(version).startsWith('2'))
    throw structureError(
      {
        code: 'unsupported-version',
        message: `The file says glTF ${String(version).slice(0, 20)}; 2.0 is read.`,
        at: 'asset.version',
      },
      place,
    );
  const parsed = GltfSchema.safeParse(json);
  if (!parsed.success) {
    const issue = parsed.error.issues[0];
    throw structureError({ code: 'bad-structure', message: `${issue.message}.`, at: issue.path.join('.') }, place);
  }
  const gltf = parsed.data;
  const fault =
    checkCounts(gltf) ?? checkNodes(gltf) ?? checkReferences(gltf) ?? checkTree(gltf) ?? checkBuffers(gltf, bufferSize);
  if (fault) throw structureError(fault, place);
  spendBytes(claimedBytes(gltf), `${place}, accessors`);
  return gltf;
}

function structureError(fault: NonNullable<Fault>, place: string): YarvoError {
  const remedies: Record<string, string> = {
    'unsupported-extension': 'Export without this extension.',
    'too-many': 'Check that this is one character and not a scene.',
  };
  return new YarvoError({
    code: fault.code,
    message: fault.message,
    place: fault.at ? `${place}, ${fault.at}` : place,
    remedy: remedies[fault.code] ?? 'Export the file again; if it returns, the exporter writes invalid glTF.',
  });
}

function checkCounts(gltf: GltfJson): Fault {
  for (const [key, limit] of [
    ['nodes', STRUCTURE_LIMITS.nodes],
    ['accessors', STRUCTURE_LIMITS.accessors],
  ] as const) {
    const count = gltf[key]?.length ?? 0;
    if (count > limit)
      return { code: 'too-many', message: `The file has ${count} ${key}; ${limit} is the limit.`, at: key };
  }
  return null;
}

function checkNodes(gltf: GltfJson): Fault {
  for (const [index, node] of (gltf.nodes ?? []).entries()) {
    const numbers = [
      ...(node.matrix ?? []),
      ...(node.translation ?? []),
      ...(node.rotation ?? []),
      ...(node.scale ?? []),
    ];
    if (!numbers.every(Number.isFinite))
      return { code: 'bad-number', message: 'A transform holds a number that is not finite.', at: `nodes.${index}` };
    if (node.rotation && Math.abs(Math.hypot(...node.rotation) - 1) > 0.05) {
      return {
        code: 'bad-rotation',
        message: `A rotation has length ${Math.hypot(...node.rotation).toFixed(3)} instead of 1.`,
        at: `nodes.${index}.rotation`,
      };
    }
  }
  return null;
}

function checkReferences(gltf: GltfJson): Fault {
  const counts: Record<string, number> = {};
  for (const key of [
    'nodes',
    'skins',
    'meshes',
    'accessors',
    'bufferViews',
    'buffers',
    'scenes',
    'images',
    'textures',
    'materials',
    'cameras',
    'samplers',
  ] as const)
    counts[key] = (gltf[key] as readonly unknown[] | undefined)?.length ?? 0;
  let fault: Fault = null;
  const expect = (index: number | undefined, list: string, at: string) => {
    if (index !== undefined && index >= counts[list] && !fault) {
      fault = { code: 'bad-index', message: `It points at ${list}[${index}], but there are ${counts[list]}.`, at };
    }
  };
  expect(gltf.scene, 'scenes', 'scene');
  gltf.scenes?.forEach((scene, i) =>
    scene.nodes?.forEach((node, j) => expect(node, 'nodes', `scenes.${i}.nodes.${j}`)),
  );
  gltf.nodes?.forEach((node, i) => {
    node.children?.forEach((child, j) => expect(child, 'nodes', `nodes.${i}.children.${j}`));
    expect(node.mesh, 'meshes', `nodes.${i}.mesh`);
    expect(node.skin, 'skins', `nodes.${i}.skin`);
    expect(node.camera, 'cameras', `nodes.${i}.camera`);
  });
  gltf.skins?.forEach((skin, i) => {
    skin.joints.forEach((joint, j) => expect(joint, 'nodes', `skins.${i}.joints.${j}`));
    expect(skin.inverseBindMatrices, 'accessors', `skins.${i}.inverseBindMatrices`);
  });
  gltf.meshes?.forEach((mesh, i) =>
    mesh.primitives.forEach((primitive, j) => {
      for (const [name, accessor] of Object.entries(primitive.attributes))
        expect(accessor, 'accessors', `meshes.${i}.primitives.${j}.attributes.${name}`);
      expect(primitive.indices, 'accessors', `meshes.${i}.primitives.${j}.indices`);
      expect(primitive.material, 'materials', `meshes.${i}.primitives.${j}.material`);
      primitive.targets?.forEach((target) =>
        Object.entries(target).forEach(([name, accessor]) =>
          expect(accessor, 'accessors', `meshes.${i}.primitives.${j}.targets.${name}`),
        ),
      );
    }),
  );
  gltf.images?.forEach((image, i) => expect(image.bufferView, 'bufferViews', `images.${i}.bufferView`));
  gltf.textures?.forEach((texture, i) => {
    expect(texture.source, 'images', `textures.${i}.source`);
    expect(texture.sampler, 'samplers', `textures.${i}.sampler`);
  });
  gltf.materials?.forEach((material, i) => {
    const slots = { ...material.pbrMetallicRoughness, ...material } as Record<string, unknown>;
    for (const slot of [
      'baseColorTexture',
      'metallicRoughnessTexture',
      'normalTexture',
      'occlusionTexture',
      'emissiveTexture',
    ])
      expect((slots[slot] as { index?: number } | undefined)?.index, 'textures', `materials.${i}.${slot}`);
  });
  gltf.accessors?.forEach((accessor, i) => expect(accessor.bufferView, 'bufferViews', `accessors.${i}.bufferView`));
  gltf.bufferViews?.forEach((view, i) => expect(view.buffer, 'buffers', `bufferViews.${i}.buffer`));
  gltf.animations?.forEach((animation, i) => {
    animation.channels.forEach((channel, j) => {
      expect(channel.target.node, 'nodes', `animations.${i}.channels.${j}.target.node`);
      if (channel.sampler >= animation.samplers.length && !fault) {
        fault = {
          code: 'bad-index',
          message: `It points at sampler ${channel.sampler}, but there are ${animation.samplers.length}.`,
          at: `animations.${i}.channels.${j}`,
        };
      }
    });
    animation.samplers.forEach((sampler, j) => {
      expect(sampler.input, 'accessors', `animations.${i}.samplers.${j}.input`);
      expect(sampler.output, 'accessors', `animations.${i}.samplers.${j}.output`);
    });
  });
  return fault;
}

/** One parent per node, no cycles, bounded depth. */
function checkTree(gltf: GltfJson): Fault {
  const nodes = gltf.nodes ?? [];
  const parents = new Int32Array(nodes.length).fill(-1);
  for (const [index, node] of nodes.entries()) {
    for (const child of node.children ?? []) {
      if (parents[child] >= 0)
        return {
          code: 'two-parents',
          message: `Node ${child} is a child of node ${parents[child]} and of node ${index}.`,
          at: `nodes.${index}.children`,
        };
      parents[child] = index;
    }
  }
  const depths = new Int32Array(nodes.length).fill(-1);
  for (let start = 0; start < nodes.length; start++) {
    const trail: number[] = [];
    let at = start;
    while (at >= 0 && depths[at] < 0) {
      if (trail.length > STRUCTURE_LIMITS.depth) {
        const isCycle = trail.indexOf(at) >= 0;
        return isCycle
          ? { code: 'cyclic-tree', message: `Node ${at} is its own ancestor.`, at: `nodes.${at}` }
          : {
              code: 'too-deep',
              message: `The tree is deeper than ${STRUCTURE_LIMITS.depth} nodes.`,
              at: `nodes.${start}`,
            };
      }
      if (trail.length > nodes.length)
        return { code: 'cyclic-tree', message: `Node ${at} is its own ancestor.`, at: `nodes.${at}` };
      trail.push(at);
      at = parents[at];
    }
    let depth = at >= 0 ? depths[at] : -1;
    for (const node of trail.reverse()) depths[node] = ++depth;
    if (depth > STRUCTURE_LIMITS.depth)
      return {
        code: 'too-deep',
        message: `The tree is deeper than ${STRUCTURE_LIMITS.depth} nodes.`,
        at: `nodes.${start}`,
      };
  }
  return null;
}

const READABLE_EXTENSIONS = new Set([
  'KHR_materials_unlit',
  'KHR_texture_transform',
  'KHR_materials_pbrSpecularGlossiness',
  'KHR_mesh_quantization',
  'KHR_materials_emissive_strength',
  'KHR_materials_clearcoat',
  'KHR_materials_ior',
  'KHR_materials_sheen',
  'KHR_materials_specular',
  'KHR_materials_transmission',
  'KHR_materials_volume',
  'KHR_materials_anisotropy',
  'KHR_materials_iridescence',
  'KHR_materials_variants',
  'KHR_lights_punctual',
  'EXT_texture_webp',
  'EXT_texture_avif',
  'KHR_texture_basisu',
  'KHR_draco_mesh_compression',
  'EXT_meshopt_compression',
  'KHR_xmp_json_ld',
  'KHR_node_visibility',
  'VRMC_vrm',
  'VRM',
  'VRMC_materials_mtoon',
  'VRMC_springBone',
]);

function isFallback(buffer: Record<string, unknown>): boolean {
  const extensions = buffer.extensions as Record<string, { fallback?: boolean } | undefined> | undefined;
  return extensions?.EXT_meshopt_compression?.fallback === true;
}

function checkBuffers(gltf: GltfJson, bufferSize: BufferSize): Fault {
  for (const extension of gltf.extensionsRequired ?? []) {
    if (!READABLE_EXTENSIONS.has(extension)) {
      return {
        code: 'unsupported-extension',
        message: `The file needs the extension ${extension}, which is not read.`,
        at: 'extensionsRequired',
      };
    }
  }
  for (const [index, buffer] of (gltf.buffers ?? []).entries()) {
    // Where the data is only a fallback for compressed data, nothing needs to be there.
    if (isFallback(buffer)) continue;
    const available = bufferSize(buffer.uri, index);
    if (buffer.byteLength > available + 3)
      return {
        code: 'truncated',
        message: `A buffer claims ${buffer.byteLength} bytes, the file holds ${available}.`,
        at: `buffers.${index}`,
      };
  }
  for (const [index, view] of (gltf.bufferViews ?? []).entries()) {
    const available = gltf.buffers?.[view.buffer]?.byteLength ?? 0;
    if ((view.byteOffset ?? 0) + view.byteLength > available) {
      return {
        code: 'out-of-range',
        message: 'A buffer view reaches past the end of its buffer.',
        at: `bufferViews.${index}`,
      };
    }
  }
  for (const [index, accessor] of (gltf.accessors ?? []).entries()) {
    if (accessor.count > STRUCTURE_LIMITS.elementCount)
      return { code: 'too-many', message: `An accessor claims ${accessor.count} elements.`, at: `accessors.${index}` };
    const view = accessor.bufferView === undefined ? undefined : gltf.bufferViews?.[accessor.bufferView];
    if (!view) continue;
    const elementBytes = COMPONENT_BYTES[accessor.componentType] * COMPONENTS[accessor.type];
    const needed = (accessor.byteOffset ?? 0) + (accessor.count - 1) * (view.byteStride ?? elementBytes) + elementBytes;
    if (needed > view.byteLength)
      return {
        code: 'out-of-range',
        message: 'An accessor reaches past the end of its buffer view.',
        at: `accessors.${index}`,
      };
  }
  return null;
}

/** What the accessors unpack to: those that have no data of their own, or compressed data, may claim any size. */
const claimedBytes = (gltf: GltfJson): number =>
  (gltf.accessors ?? []).reduce(
    (sum, { count, componentType, type }) => sum + count * COMPONENT_BYTES[componentType] * COMPONENTS[type],
    0,
  );
