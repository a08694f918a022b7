import { CharacterParams, FitQuery } from '@/contract/requests';
import { findCharacter } from '../characters/character-repository';
import { findCurrentFit } from '../fits/fit-repository';
import { STUDIO } from '../library/studio';
import { matchedReading } from '../matches/matched-reading';
import { blockHash, type BlockKind } from '../readings/blocks';
import { decisionsKey } from '../readings/decisions-key';
import { blobResponse } from './blob-response';
import { guarded, invalidRequest, notFound, type CharacterContext } from './http';

/** A companion of the rig that a fit stands on; 304 where the browser has it. `?definition=` names another fit. */
export const blockRoute = (request: Request, context: CharacterContext, kind: BlockKind): Promise<Response> =>
  guarded(request, kind, async () => {
    const params = CharacterParams.safeParse(await context.params);
    if (!params.success) return notFound();
    const { characterId } = params.data;
    const query = FitQuery.safeParse(Object.fromEntries(new URL(request.url).searchParams));
    if (!query.success) return invalidRequest(query.error.issues);
    const { definition: definitionId = STUDIO.definition } = query.data;
    const character = await findCharacter(characterId);
    const fit = character && (await findCurrentFit(characterId, definitionId));
    if (!character || !fit) return notFound();
    await matchedReading(character, fit.state);
    const { intake, basis } = fit.state;
    const hash = await blockHash(
      { characterId, decisionsKey: decisionsKey(intake), readerVersion: basis.reader },
      kind,
    );
    const etag = `"${hash}"`;
    if (request.headers.get('if-none-match') === etag) return new Response(null, { status: 304, headers: { etag } });
    const answer =
      hash &&
      (await blobResponse(hash, {
        'content-type': 'application/octet-stream',
        'cache-control': 'private, no-cache',
        etag,
      }));
    return answer || notFound();
  });
