import { yarvoClient } from '@/contract/client';

/** The calls of the server that this page came from. */
export const api = yarvoClient('');
