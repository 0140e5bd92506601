import { test } from '@jest/globals';
import { bare, openWith, changed } from '../testing/round-trip';
import { proveArchive, planArchive } from '../mod';
import { archiveOf, scriptOf } from '../testing/generated-formats';
import { parseScript } from '../script';
import fs from 'node:fs';
test('probe', () => {
  const f = {"little":false,"table":"start","rows":"together","name":"fixed","placeSize":3,"unit":1,"counted":false,"spare":0,"codec":"none","cipher":"none","check":"none","headCheck":false,"fill":0} as any;
  const items = [{"name":"a","data":Buffer.from([0]),"spare":Buffer.from([0,0,0,0,0])},{"name":"a/a","data":Buffer.from([0]),"spare":Buffer.from([0,0,0,0,0])}];
  const a = openWith(parseScript(scriptOf(f)), archiveOf(f, items));
  const b = changed(a, 1, '', bare, 'shifted');
  const out = [scriptOf(f), JSON.stringify(proveArchive(b, bare), null, 1), ...b.entries.map(e => `${e.path} ${e.offset} ${e.storedSize}`), String(b.source.length)];
  fs.writeFileSync('/tmp/probe.out', out.join('\n'));
});
