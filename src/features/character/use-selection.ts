'use client';

import { oneOf, useAddress, writeAddress } from './use-address';

export const VIEWS = ['front', 'side', 'top', 'free'] as const;
type ViewName = (typeof VIEWS)[number];
export const MESH_MODES = ['solid', 'see-through', 'hidden'] as const;
type MeshMode = (typeof MESH_MODES)[number];

export interface Selection {
  readonly role: string | null;
  readonly bone: number | null;
  readonly view: ViewName;
  readonly mesh: MeshMode;
  /** Names beside the joints. */
  readonly labels: boolean;
  /** Size of the joints' rings, percent. */
  readonly joints: number;
  /** Only the line of what is selected. */
  readonly only: boolean;
  /** Character that this one is compared with; "choose" while none is. */
  readonly compare: string | null;
}

/** Role, bone and view live in the address, so that every state can be linked and reloaded. */
export function useSelection(): Selection & { select: (patch: Partial<Selection>) => void } {
  const params = useAddress();
  const bone = params.get('bone');
  return {
    role: params.get('role'),
    bone: bone !== null && /^\d+$/.test(bone) ? Number(bone) : null,
    view: oneOf(VIEWS, params.get('view'), 'front'),
    mesh: oneOf(MESH_MODES, params.get('mesh'), 'see-through'),
    labels: params.get('labels') === 'true',
    joints: Math.max(40, Math.min(250, Number(params.get('joints') ?? 100) || 100)),
    only: params.get('only') === 'true',
    compare: params.get('compare'),
    select,
  };
}

const select = (patch: Partial<Selection>): void => writeAddress({ ...patch });
