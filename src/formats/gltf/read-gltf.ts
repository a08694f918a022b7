import type { Document, JSONDocument } from '@gltf-transform/core';
import { createDecoderModule } from 'draco3dgltf';
import { MeshoptDecoder } from 'meshoptimizer';
import { YarvoError } from '@/core/errors/yarvo-error';
import { gltfFacts, type SourceFacts, type TextureFact } from '@/core/rig/source-facts';
import { imageSize, imageType } from '@/core/rig/image-facts';
import { removeFacts, writeFacts } from '@/document/facts';
import type { Companions } from '../files/companions';
import { readVrmBlock } from '../vrm/vrm-block';
import { checkStructure, type GltfJson } from './check-structure';
import { isGlb, readGlbContainer } from './glb-container';
import { parseGltfJson } from './parse-json';
import { createNodeIO } from './node-io';
import { isOutside, resolveUri } from './resources';

export interface GltfReading {
  readonly document: Document;
  /** True where the file itself can serve as the canonical document: one plain, uncompressed GLB. */
  readonly isCanonical: boolean;
}

const COMPRESSIONS = ['KHR_draco_mesh_compression', 'EXT_meshopt_compression'];
/** How gltf-transform calls the binary chunk among its resources. */
const BINARY_CHUNK = '@glb.bin';

/**
 * glTF 2.0 in any packing: GLB, or JSON with data URIs or files beside it; Draco, meshopt, sparse data; VRM.
 * @throws {YarvoError}
 */
export async function readGltf(bytes: Uint8Array, place: string, companions: Companions): Promise<GltfReading> {
  const isBinary = isGlb(bytes);
  const container = isBinary ? readGlbContainer(bytes, place) : { json: parseGltfJson(bytes, place), binary: null };
  const resources: Record<string, Uint8Array<ArrayBuffer>> = {};
  const json = checkStructure(
    container.json,
    (uri, index) => {
      if (uri === undefined) return container.binary?.byteLength ?? 0;
      const found = resolveUri(uri, place, companions, `${place}, buffers.${index}.uri`);
      if (!found)
        throw new YarvoError({
          code: 'missing-file',
          message: `The file keeps its data in "${uri.slice(0, 200)}", which is missing.`,
          place: `${place}, buffers.${index}.uri`,
          remedy: 'Drop both together, or the folder or zip that holds them, or export one .glb.',
        });
      resources[uri] = found as Uint8Array<ArrayBuffer>;
      return found.byteLength;
    },
    place,
  );
  if (container.binary) resources[BINARY_CHUNK] = container.binary as Uint8Array<ArrayBuffer>;
  const images = resolveImages(json, place, companions, resources);
  const document = await parse({ json: json as unknown as JSONDocument['json'], resources }, place, isCompressed(json));
  for (const extension of document.getRoot().listExtensionsUsed())
    if (COMPRESSIONS.includes(extension.extensionName)) extension.dispose();
  removeFacts(document);
  const facts = readFacts(json, document, images, isBinary);
  // A texture without a picture could be written, but never read again.
  for (const texture of document.getRoot().listTextures()) if (!texture.getImage()) texture.dispose();
  const isCanonical =
    isBinary &&
    facts.format === 'glb' &&
    !isCompressed(json) &&
    images.every((image) => image.isEmbedded) &&
    !(json.extras as object | undefined) &&
    (json.buffers ?? []).every((buffer) => buffer.uri === undefined);
  writeFacts(document, facts);
  return { document, isCanonical };
}

const isCompressed = (json: GltfJson): boolean =>
  [...(json.extensionsRequired ?? []), ...((json.extensionsUsed as string[] | undefined) ?? [])].some((name) =>
    COMPRESSIONS.includes(name),
  );

interface ImageFound {
  readonly name: string;
  readonly isEmbedded: boolean;
  readonly status: TextureFact['status'];
}

/** Puts every picture at hand among the resources; one that is not is said to be missing and never stops the reading. */
function resolveImages(
  json: GltfJson,
  place: string,
  companions: Companions,
  resources: Record<string, Uint8Array>,
): ImageFound[] {
  return (json.images ?? []).map((image, index): ImageFound => {
    const label = image.name || `image ${index}`;
    if (typeof image.uri !== 'string') return { name: label, isEmbedded: true, status: 'embedded' };
    // Pictures are often named by where they lay on their maker's drive: a file of that name that came along will do.
    const found = isOutside(image.uri)
      ? (companions.findByName(image.uri)?.bytes ?? null)
      : resolveUri(image.uri, place, companions, `${place}, images.${index}.uri`);
    const isData = /^data:/i.test(image.uri);
    const status = isData
      ? 'embedded'
      : found
        ? companions.findByName(image.uri)?.isSupplied
          ? 'supplied'
          : 'resolved'
        : 'missing';
    if (found && imageType(found)) {
      resources[image.uri] = found;
      image.mimeType ??= imageType(found) ?? undefined;
    }
    return { name: isData ? label : image.uri.slice(0, 300), isEmbedded: isData, status };
  });
}

async function parse(json: JSONDocument, place: string, needsDecoders: boolean): Promise<Document> {
  const io = createNodeIO();
  if (needsDecoders) {
    await MeshoptDecoder.ready;
    io.registerDependencies({ 'draco3d.decoder': await createDecoderModule(), 'meshopt.decoder': MeshoptDecoder });
  }
  try {
    return await io.readJSON(json);
  } catch (error) {
    throw new YarvoError({
      code: 'unreadable-data',
      message: `The file's data cannot be read: ${messageOf(error)}.`,
      place,
      remedy: 'Export the file again; if it returns, try another exporter or leave out the compression.',
    });
  }
}

const messageOf = (error: unknown): string => (error instanceof Error ? error.message : String(error)).slice(0, 300);

const PURPOSES: readonly [slot: string, purpose: string][] = [
  ['baseColorTexture', 'colour'],
  ['diffuseTexture', 'colour'],
  ['normalTexture', 'normal'],
  ['metallicRoughnessTexture', 'metal and roughness'],
  ['occlusionTexture', 'occlusion'],
  ['emissiveTexture', 'glow'],
];

function readFacts(json: GltfJson, document: Document, images: readonly ImageFound[], isBinary: boolean): SourceFacts {
  const vrm = readVrmBlock(json);
  const asset = json.asset as GltfJson['asset'] & { copyright?: string };
  const textures = document
    .getRoot()
    .listTextures()
    .map((texture, index): TextureFact => {
      const image = texture.getImage();
      const found = images[index];
      return {
        name: (found?.name ?? texture.getName()).slice(0, 500) || `image ${index}`,
        status: found?.status ?? (image ? 'embedded' : 'missing'),
        purposes: purposesOf(json, index),
        bytes: image?.byteLength ?? 0,
        ...(image ? imageSize(image) : { width: 0, height: 0 }),
      };
    });
  return gltfFacts({
    format: vrm ? 'vrm' : isBinary ? 'glb' : 'gltf',
    version: vrm ? `${vrm.version}` : asset.version,
    generator: (asset.generator ?? '').slice(0, 500),
    provenance: vrm?.provenance ?? {
      source: '',
      author: '',
      licence: '',
      attribution: String(asset.copyright ?? '').slice(0, 500),
    },
    statedRoles: vrm?.roles ?? {},
    expressions: vrm?.expressions ?? [],
    textures,
  });
}

/** What materials use an image for. */
function purposesOf(json: GltfJson, image: number): string[] {
  const textures = json.textures ?? [];
  const purposes = new Set<string>();
  const visit = (value: unknown, depth: number) => {
    if (typeof value !== 'object' || value === null || depth > 6) return;
    for (const [key, inner] of Object.entries(value)) {
      const purpose = PURPOSES.find(([slot]) => slot === key)?.[1];
      const texture = (inner as { index?: number } | null)?.index;
      if (purpose && texture !== undefined && textures[texture]?.source === image) purposes.add(purpose);
      visit(inner, depth + 1);
    }
  };
  visit(json.materials, 0);
  return [...purposes];
}
