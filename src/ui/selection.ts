import { outcomeOf, type Outcome } from '@/contract/client';
import { api } from './api';

/** Ids that an address has room for; more are kept under a name. */
const MOST_IN_ADDRESS = 40;

/** How an address names some characters: by their ids, or, where these are many, by a selection that the server keeps. */
export async function selectionQuery(ids: readonly string[]): Promise<Outcome<string>> {
  if (ids.length <= MOST_IN_ADDRESS) return { ok: true, data: `characters=${ids.join(',')}` };
  const body = { characterIds: [...ids] };
  const outcome = await outcomeOf(api.POST('/api/selections', { body }), 'selection');
  return outcome.ok ? { ok: true, data: `selection=${outcome.data.selection}` } : outcome;
}
