import { chromium } from 'playwright';
const [,, base, out, path, scheme='light', ...steps] = process.argv;
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox'] });
const p = await b.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: scheme });
await p.goto(base + path); await p.waitForLoadState('networkidle');
for (const s of steps) { await (new Function('p', `return (async () => { ${s} })()`))(p); }
await p.waitForTimeout(1200);
await p.screenshot({ path: out }); await b.close();
