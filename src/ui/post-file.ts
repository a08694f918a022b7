/** Sends a file as it is: the typed client speaks JSON. @returns what `outcomeOf` takes. */
export async function postFile<Answer>(url: string, bytes: Blob | Uint8Array) {
  const headers = { 'content-type': 'application/octet-stream' };
  const response = await fetch(url, { method: 'POST', headers, body: bytes as BodyInit });
  const answer = (await response.json()) as Answer;
  return { response, data: answer, error: answer };
}
