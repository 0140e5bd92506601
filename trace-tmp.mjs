import { chromium } from '@playwright/test';
const b = await chromium.launch({ executablePath:'/usr/bin/chromium', args:['--no-sandbox','--use-angle=swiftshader','--enable-unsafe-swiftshader'] });
const page = await b.newPage({ viewport:{width:1280,height:800} });
await page.goto('http://127.0.0.1:4400/games/5/contents');
const list = page.getByRole('listbox',{name:'Entries'}); await list.getByRole('option').first().waitFor(); await page.waitForTimeout(2000);
await b.startTracing(page,{ categories:['devtools.timeline','toplevel'] });
await list.evaluate(async (box)=>{ const step=(by)=>new Promise(r=>requestAnimationFrame(()=>{box.scrollTop+=by;r();})); for(let i=0;i<200;i++)await step(120); for(let i=0;i<100;i++)await step(600); for(let i=1;i<=50;i++)await step(box.scrollHeight/60); });
const buf = await b.stopTracing(); await b.close();
const ev = JSON.parse(buf.toString()).traceEvents.filter(e=>e.ph==='X'&&e.dur).sort((a,b)=>a.ts-b.ts||b.dur-a.dur);
const tasks = ev.filter(e=>e.name.endsWith('RunTask')&&e.dur>50000&&ev.some(f=>f.tid===e.tid&&f.pid===e.pid&&f.name==='UpdateLayoutTree'));
const uniq=[]; for(const t of tasks){ if(!uniq.some(u=>u.tid===t.tid&&u.ts<=t.ts&&u.ts+u.dur>=t.ts+t.dur)) uniq.push(t);} 
console.log(uniq.length);
const self={}; for(const m of uniq){ const inner=ev.filter(e=>e.tid===m.tid&&e.pid===m.pid&&e.ts>=m.ts&&e.ts+e.dur<=m.ts+m.dur); const stack=[]; for(const e of inner){ while(stack.length&&stack.at(-1).ts+stack.at(-1).dur<=e.ts) stack.pop(); const d=e.dur/1000; self[e.name]=(self[e.name]||0)+d; if(stack.length) self[stack.at(-1).name]-=d; stack.push(e);} }
console.log(Object.entries(self).sort((a,b)=>b[1]-a[1]).slice(0,16).map(([k,v])=>k+' '+v.toFixed(0)).join('\n'), 'total', uniq.reduce((s,m)=>s+m.dur/1000,0));
