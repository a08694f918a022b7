import { z } from 'zod';
import type { Provenance } from '@/core/rig/source-facts';

/** What a VRM file says of its humanoid. It is evidence for the match, never taken as truth. */
export interface VrmBlock {
  readonly version: string;
  /** VRM 1.0 role -> node index. */
  readonly roles: Record<string, number>;
  readonly expressions: string[];
  readonly provenance: Provenance;
}

const Text = z.string().catch('');
const Index = z.int().nonnegative();

/** Source: VRM 1.0 specification, VRMC_vrm. */
const Vrm1Schema = z.looseObject({
  specVersion: Text.default('1.0'),
  humanoid: z.looseObject({ humanBones: z.record(z.string(), z.looseObject({ node: Index })) }),
  meta: z
    .looseObject({
      name: Text.optional(),
      authors: z.array(Text).optional(),
      licenseUrl: Text.optional(),
      copyrightInformation: Text.optional(),
      references: z.array(Text).optional(),
    })
    .optional(),
  expressions: z
    .looseObject({
      preset: z.record(z.string(), z.unknown()).optional(),
      custom: z.record(z.string(), z.unknown()).optional(),
    })
    .optional(),
});

/** Source: VRM 0.0 specification. */
const Vrm0Schema = z.looseObject({
  humanoid: z.looseObject({ humanBones: z.array(z.looseObject({ bone: z.string(), node: Index })) }),
  meta: z
    .looseObject({
      title: Text.optional(),
      author: Text.optional(),
      licenseName: Text.optional(),
      reference: Text.optional(),
      contactInformation: Text.optional(),
    })
    .optional(),
  blendShapeMaster: z
    .looseObject({ blendShapeGroups: z.array(z.looseObject({ name: Text.optional() })).optional() })
    .optional(),
});

/** Thumbs were counted one segment further out in 0.x. */
const OLD_THUMBS: Record<string, string> = { ThumbProximal: 'ThumbMetacarpal', ThumbIntermediate: 'ThumbProximal' };

/** The humanoid block of a glTF's JSON, 1.0 before 0.x; null without one or where it is damaged. */
export function readVrmBlock(json: { extensions?: unknown; nodes?: readonly unknown[] }): VrmBlock | null {
  const extensions = (json.extensions ?? {}) as Record<string, unknown>;
  const nodeCount = json.nodes?.length ?? 0;
  const inRange = (roles: [string, number][]) => Object.fromEntries(roles.filter(([, node]) => node < nodeCount));
  const one = Vrm1Schema.safeParse(extensions.VRMC_vrm);
  if (one.success) {
    const { humanoid, meta, expressions, specVersion } = one.data;
    return {
      version: `VRM ${specVersion}`,
      roles: inRange(Object.entries(humanoid.humanBones).map(([role, { node }]) => [role, node])),
      expressions: [...Object.keys(expressions?.preset ?? {}), ...Object.keys(expressions?.custom ?? {})].map((name) =>
        name.slice(0, 200),
      ),
      provenance: {
        source: cut(meta?.name),
        author: cut(meta?.authors?.join(', ')),
        licence: cut(meta?.licenseUrl),
        attribution: cut(meta?.copyrightInformation),
      },
    };
  }
  const zero = Vrm0Schema.safeParse(extensions.VRM);
  if (!zero.success) return null;
  const { humanoid, meta, blendShapeMaster } = zero.data;
  return {
    version: 'VRM 0.x',
    roles: inRange(humanoid.humanBones.map(({ bone, node }) => [modernRole(bone), node])),
    expressions: (blendShapeMaster?.blendShapeGroups ?? []).map((group) => cut(group.name)).filter(Boolean),
    provenance: {
      source: cut(meta?.title),
      author: cut(meta?.author),
      licence: cut(meta?.licenseName),
      attribution: cut(meta?.reference),
    },
  };
}

const cut = (text: string | undefined): string => (text ?? '').slice(0, 500);

function modernRole(role: string): string {
  const side = /^(left|right)(Thumb\w+)$/.exec(role);
  return side ? side[1] + (OLD_THUMBS[side[2]] ?? side[2]) : role;
}
