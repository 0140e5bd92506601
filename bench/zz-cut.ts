import fs from 'node:fs';
import { NameList } from '@/core/archive';
import { lookInto } from '@/server/scan/look-into';
import { walkFolder } from '@/server/scan/folder-files';
process.env.ZERO_LATCH_STORAGE='/tmp/cuts-storage'; fs.mkdirSync('/tmp/cuts-storage/l',{recursive:true});
const folder=process.argv[2]!;
const walk = walkFolder(folder,new Map(),{check(){},progress(){},nudge(){},id:''} as never);
for (const f of walk.files) { const b=performance.now(); try { if(!f.script){console.log(f.path,'no script', f.unreadable);continue;}
 const o=lookInto({folder,path:f.path,script:f.script,keys:[],listings:'/tmp/cuts-storage/l',stamp:'',givenDigest:'',namesDigest:'',guessed:new Set()},NameList.parse(''));
 console.log(f.path,f.script,o.state,o.entries,o.reason.slice(0,150), Math.round(performance.now()-b));
 } catch(e) { console.log('THROWS',f.path,f.script,String((e as Error).stack).split("\n").filter((l)=>l.includes("at ")).slice(0,9).join("|").replaceAll("/work/main/src/",""), Math.round(performance.now()-b)); } }
