// Loaded into a measured process: writes its largest resident size, in bytes, when it ends.
import { writeFileSync } from 'node:fs';

process.on('exit', () =>
  writeFileSync(process.env.PEAK_MEMORY_FILE, String(process.resourceUsage().maxRSS * 1024)),
);
