/** Signs the demo's planner in; asks addresses of the API, and tells how many milliseconds each answer took. */
export async function asking(address) {
  const signedIn = await fetch(`${address}/api/session`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ email: 'wren@marram.example.org', password: 'first light' }) });
  const cookie = signedIn.headers.getSetCookie().map((c) => c.split(';')[0]).join('; ');
  return async (path, method = 'GET', body = undefined, headers = {}) => {
    const start = performance.now();
    const answer = await fetch(address + path, { method, headers: { cookie, 'content-type': 'application/json', ...headers }, body: body && JSON.stringify(body) });
    const text = await answer.text();
    if (!answer.ok) throw new Error(`${path}: ${text}`);
    return { took: performance.now() - start, said: text === '' ? null : JSON.parse(text) };
  };
}
