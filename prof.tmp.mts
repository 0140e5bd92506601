import { openArchive } from './src/core/archive/index.ts';
import { parseScript } from './src/core/script/index.ts';
import { openFileSource } from './src/platform/node/file-source.ts';
import { nodePrimitives } from './src/platform/node/primitives.ts';
import fs from 'node:fs';
const script = parseScript(fs.readFileSync('/tmp/mill.yaml','utf8'));
openArchive(script, openFileSource('/tmp/mill.bin'), { primitives: nodePrimitives });
