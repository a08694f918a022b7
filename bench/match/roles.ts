import { QUAY } from '@/core/definition/quay';

/** Role id -> line id of the shipped definition. */
export const QUAY_ROLES: ReadonlyMap<string, string> = new Map(QUAY.roles.map((role) => [role.id, role.line]));
