// Loaded into a measured process: writes its largest resident size, in bytes, when it ends.
import { readFileSync, writeFileSync } from 'node:fs';

// Not resourceUsage().maxRSS, which begins with the size of the process that this one was forked from.
process.on('exit', () => {
  const kilobytes = /VmHWM:\s*(\d+)/.exec(readFileSync('/proc/self/status', 'utf8'))[1];
  writeFileSync(process.env.PEAK_MEMORY_FILE, String(Number(kilobytes) * 1024));
});
