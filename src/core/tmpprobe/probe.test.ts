import { test } from '@jest/globals';
import { companionsIn, referenceScripts, SAMPLES } from '../testing/reference-samples';
import { bare, openWith } from '../testing/round-trip';
import { proveArchive } from '../mod';
import { NameList } from '../archive';
import fs from 'node:fs';
test('probe', () => {
  const out: string[] = [];
  for (const [name, make] of Object.entries(SAMPLES)) {
    const { bytes, beside, names = [] } = make();
    const script = referenceScripts.get(name)!;
    const options = { ...bare, companion: companionsIn(beside), names: NameList.parse(Buffer.from(names.join('\n'))) };
    try {
      const archive = openWith(script, bytes, options);
      for (const c of proveArchive(archive, options).claims) if (!c.holds || /trials/.test(c.detail)) out.push(`${name}: ${c.holds} ${c.detail}`);
    } catch (e) { out.push(`${name}: THROWS ${(e as Error).message}`); }
  }
  fs.writeFileSync('/tmp/probe.out', out.join('\n'));
});
