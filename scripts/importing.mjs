// The steps of an import, to be run in a page or in Node: importing(ADDRESS OF THE WORKSPACE, SHEET) gives its line when it is in the bank.
async function importingSteps(at, sheet) {
  const get = (path) => fetch(path).then((r) => r.json());
  const complete = async (id) => {
    for (;;) {
      const view = await get(`${at}/imports/${id}`);
      if (view.progress.isComplete) return view;
      await new Promise((done) => setTimeout(done, 100));
    }
  };
  const form = new FormData();
  form.append('sheet', new File([sheet], 'bench.csv'));
  const { id } = await fetch(`${at}/imports`, { method: 'POST', body: form }).then((r) => r.json());
  // What looks like a post of the bank is wanted all the same.
  const all = { which: { rows: null, status: null, search: null, about: 'doubles' }, values: null, leftOut: null, joined: null, ifThere: 'anyway', takeOffered: false, fit: null, reset: false };
  const headers = { 'content-type': 'application/json' };
  await complete(id);
  await fetch(`${at}/imports/${id}/rows`, { method: 'POST', headers, body: JSON.stringify(all) });
  const { revision } = await complete(id);
  await fetch(`${at}/imports/${id}/commit`, { method: 'POST', headers, body: JSON.stringify({ revision }) });
  for (;;) {
    const view = await get(`${at}/imports/${id}`);
    if (view.trouble) throw new Error(view.trouble);
    if (view.line.state === 'imported') return view.line;
    await new Promise((done) => setTimeout(done, 100));
  }
}

/** As a text that defines it in a page. */
export const importing = `const importing = ${importingSteps};`;
