import { z } from 'zod';

/** Parts that the requests of several actions are made of. */
export const BoneIndex = z.int().nonnegative();
/** Whether a definition knows it is asked when the action is applied. */
export const RoleId = z.string().max(100);
export const LineId = z.string().max(100);
export const MOST_ROLES = 500;
