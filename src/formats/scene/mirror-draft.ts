import type { Transform } from '@/core/rig/rig';
import type { DraftPart, SceneDraft } from './scene-draft';

/**
 * A left-handed scene as a right-handed one: everything is mirrored at x = 0, and triangles change their winding.
 * Names stay with their bones, so left stays left as the artist saw it.
 */
export function mirrorDraft(draft: SceneDraft): SceneDraft {
  const skins = new Map(
    draft.meshes.flatMap(({ skin }) =>
      skin ? [[skin, { ...skin, inverseBinds: mirrorMatrices(skin.inverseBinds) }] as const] : [],
    ),
  );
  return {
    ...draft,
    nodes: draft.nodes.map((node) => ({ ...node, rest: mirrorTransform(node.rest) })),
    meshes: draft.meshes.map((mesh) => ({
      ...mesh,
      skin: mesh.skin && (skins.get(mesh.skin) ?? null),
      parts: mesh.parts.map(mirrorPart),
    })),
    clips: draft.clips.map((clip) => ({
      ...clip,
      tracks: clip.tracks.map((track) => ({
        ...track,
        values:
          track.path === 'scale'
            ? track.values
            : flip(track.values, track.path === 'rotation' ? 4 : 3, track.path === 'rotation' ? [1, 2] : [0]),
      })),
    })),
  };
}

function mirrorTransform({ translation: [x, y, z], rotation: [a, b, c, w], scale }: Transform): Transform {
  return { translation: [-x, y, z], rotation: [a, -b, -c, w], scale };
}

function mirrorPart(part: DraftPart): DraftPart {
  const indices = part.indices.slice();
  for (let at = 0; at + 2 < indices.length; at += 3)
    [indices[at + 1], indices[at + 2]] = [indices[at + 2], indices[at + 1]];
  return {
    ...part,
    indices,
    positions: flip(part.positions, 3, [0]),
    normals: part.normals && flip(part.normals, 3, [0]),
    morphs: part.morphs.map((deltas) => flip(deltas, 3, [0])),
  };
}

function flip(values: Float32Array, size: number, components: readonly number[]): Float32Array {
  const out = values.slice();
  for (let at = 0; at < out.length; at += size)
    for (const component of components) out[at + component] = -out[at + component];
  return out;
}

/** M' = F M F with F = diag(-1, 1, 1, 1). */
function mirrorMatrices(values: Float32Array): Float32Array {
  return values.map((value, at) => {
    const [row, column] = [at % 4, Math.floor((at % 16) / 4)];
    return (row === 0) !== (column === 0) ? -value : value;
  });
}
