import { streamBlob } from '../blobs/blob-store';

/** A kept file as an answer, streamed; null for an unknown hash. */
export async function blobResponse(hash: string, headers: Record<string, string>): Promise<Response | null> {
  const blob = await streamBlob(hash);
  return blob && new Response(blob.body, { headers: { ...headers, 'content-length': String(blob.size) } });
}
