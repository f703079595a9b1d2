/** What the server answered: its status, and its body where it is JSON. */
export type Answer<T> = { readonly status: number; readonly body: T; readonly headers: Headers };

/**
 * Asks the server. A body that is text is sent as it is.
 * @param base address of the API, as `http://127.0.0.1:4000/api`.
 * @param version the version that a write was made from.
 */
export async function ask<T>(
  base: string,
  method: string,
  path: string,
  body?: unknown,
  version?: number | Record<string, string>,
): Promise<Answer<T>> {
  const given = typeof version === 'number' ? { 'If-Match': `"${version}"` } : version;
  const response = await fetch(`${base}${path}`, {
    method,
    headers: { ...(body === undefined ? {} : { 'content-type': 'application/json' }), ...given },
    ...(body === undefined ? {} : { body: typeof body === 'string' ? body : JSON.stringify(body) }),
    signal: AbortSignal.timeout(60_000),
  });
  const text = await response.text();
  return {
    status: response.status,
    body: (text ? JSON.parse(text) : null) as T,
    headers: response.headers,
  };
}
