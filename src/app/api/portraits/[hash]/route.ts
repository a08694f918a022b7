import { PortraitParams } from '@/contract/requests';
import { readPortrait } from '@/server/characters/roster';
import { guarded, notFound } from '@/server/http/http';

/** Limbs take the colours of the page that uses the drawing. */
const TINTS: Readonly<Record<string, string>> = {
  'class="left"': 'stroke="var(--tint-left)"',
  'class="right"': 'stroke="var(--tint-right)"',
  'class="centre"': 'stroke="var(--tint-centre)"',
  'class="spare"': 'stroke="var(--tint-centre)"',
};

/** A portrait as an SVG whose figure is `#figure`, to be used in a page. Named by its content, so browsers may keep it. */
export const GET = (request: Request, context: { params: Promise<{ hash: string }> }): Promise<Response> =>
  guarded(request, 'portrait', async () => {
    const params = PortraitParams.safeParse(await context.params);
    const portrait = params.success ? await readPortrait(params.data.hash) : null;
    if (!params.success || portrait === null) return notFound('There is no such portrait.');
    const drawn = portrait.replace(/class="(?:left|right|centre|spare)"/g, (mark) => TINTS[mark]);
    const body = drawn.replace('<svg ', '<svg id="figure" ');
    return new Response(body, {
      headers: {
        'content-type': 'image/svg+xml',
        'cache-control': 'private, max-age=31536000, immutable',
        etag: `"${params.data.hash}"`,
      },
    });
  });
