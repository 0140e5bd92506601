import { parseScript } from '@/core/script';
import fs from 'node:fs';
import { openModel } from '@/media/model/core';
import { printOf, PrintSettings } from '@/media/model/core/print';
import { nodePrimitives } from '@/platform/node/primitives';
import { writeForm } from '../demo/world/forms/form-writer';
import { boathook } from '../demo/world/forms/props';
import { heron } from '../demo/world/forms/heron';
const script = parseScript(fs.readFileSync('/work/main/scripts/formats/form-peatfire.yaml', 'utf8'));
const show=(o:any)=>JSON.stringify(o,(k,v)=>k==='shells'||k==='holes'?v.slice(0,5):typeof v==='number'?+v.toPrecision(5):v);
for (const [n,parts] of [['boathook',boathook(true)],['heron',(heron as any)()]] as any) {
  const bytes = writeForm(parts);
  const form = openModel(script, bytes, n+".form", nodePrimitives).form;
  const t=performance.now();
  const p = await printOf(form, n, PrintSettings.parse({size:{by:'longest',longest:600},cuts:{by:'bed'},pegs:{across:5,room:0.15}}));
  console.log(n, Math.round(performance.now()-t),'ms');
  console.log(show(p.report.found)); console.log(show(p.report.mends)); console.log(show(p.report.mended));
  console.log(show({...p.report,found:0,mended:0,mends:0}));
}
