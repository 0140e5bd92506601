/** Opens the address that bin/start printed, as a browser does: the address alone, and the headers that later requests show. */
export async function enter(printed) {
  const address = new URL(printed).origin;
  const answer = await fetch(printed, { redirect: 'manual' });
  const [cookie] = answer.headers.getSetCookie();
  if (!cookie)
    throw new Error(
      `${address} does not let anybody in with this address (${answer.status}). Give the one that bin/start printed.`,
    );
  return { address, headers: { origin: address, cookie: cookie.split(';')[0] } };
}
