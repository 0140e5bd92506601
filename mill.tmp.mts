import { openArchive } from './src/core/archive/index.ts';
import { parseScript } from './src/core/script/index.ts';
import { openFileSource } from './src/platform/node/file-source.ts';
import { nodePrimitives } from './src/platform/node/primitives.ts';
import fs from 'node:fs';
const script = parseScript(fs.readFileSync('/tmp/mill.yaml','utf8'));
for (let r=0;r<3;r++){
 globalThis.gc?.(); const before = process.memoryUsage().heapUsed;
 const t=performance.now();
 const a = openArchive(script, openFileSource('/tmp/mill.bin'), { primitives: nodePrimitives });
 const ms=performance.now()-t; globalThis.gc?.();
 const m=process.memoryUsage();
 console.log(a.entries.length, ms.toFixed(0)+'ms', ((m.heapUsed-before)/1e6).toFixed(0)+'MB heap', (m.arrayBuffers/1e6).toFixed(0)+'MB buffers', a.entries[777].path);
}
// baseline
const bytes=fs.readFileSync('/tmp/mill.bin'); 
for (let r=0;r<3;r++){
 const t=performance.now(); const v=new DataView(bytes.buffer,bytes.byteOffset); const n=v.getUint32(4,true);
 const hi=new Uint32Array(n),lo=new Uint32Array(n),at=new Float64Array(n),size=new Uint32Array(n),flags=new Uint32Array(n),ns=new Uint32Array(n),nl=new Uint16Array(n);
 let p=8; for(let i=0;i<n;i++){ lo[i]=v.getUint32(p,true);hi[i]=v.getUint32(p+4,true);at[i]=v.getUint32(p+8,true)+v.getUint32(p+12,true)*4294967296;size[i]=v.getUint32(p+16,true);flags[i]=v.getUint32(p+20,true);nl[i]=v.getUint16(p+24,true);ns[i]=p+26;p+=26+nl[i]!; }
 console.log('baseline',(performance.now()-t).toFixed(1));
}
