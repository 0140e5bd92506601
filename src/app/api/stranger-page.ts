import { STRANGER } from './guard';

/** The only page that is shown to whoever was not given the address. */
export const strangerPage = (): string => `<!doctype html>
<html lang="en">
<meta charset="utf-8">
<meta name="viewport" content="width=device-width">
<title>Zero Latch</title>
<style>
  :root { color-scheme: light dark }
  body { font: 17px/1.5 system-ui, sans-serif; max-width: 36em; margin: 12vh auto; padding: 0 1.5em }
</style>
<main>
<h1>This address needs its word</h1>
<p>${STRANGER}</p>
</main>
</html>
`;
