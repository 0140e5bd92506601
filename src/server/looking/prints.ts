import { fileStem } from '@/core/kinds';
import type { PrintSettings } from '@/media/model/core/print/settings';
import { packedPrint, printFile, type PrintFile } from '@/media/model/node/print';
import type { OpenedEntry } from '../opening/opened';
import { mediaScriptFor } from '../opening/scripts';
import { keptFile } from './kept-file';
import { hasLookThread, lookBeside } from './look-threads';
import { wholeEntry } from './preview';

/** A model as it would be printed: packed to be drawn, with what was found and done. Worked out beside the server. */
export async function printResponse(opened: OpenedEntry, settings: PrintSettings): Promise<Response> {
  const { path: name } = opened.entry;
  const bytes = wholeEntry(opened);
  const packed = hasLookThread()
    ? await lookBeside('print', { bytes, name, settings })
    : await packedPrint(bytes, name, settings, mediaScriptFor);
  return new Response(packed as Uint8Array<ArrayBuffer>, {
    headers: {
      'content-type': 'application/octet-stream',
      'cache-control': 'private, max-age=0, must-revalidate',
    },
  });
}

/** Its pieces as a file to keep. */
export async function printDownload(
  opened: OpenedEntry,
  settings: PrintSettings,
  as: PrintFile,
): Promise<Response> {
  const { path: name } = opened.entry;
  const bytes = wholeEntry(opened);
  const made = hasLookThread()
    ? await lookBeside('printFile', { bytes, name, settings, as })
    : await printFile(bytes, name, settings, as, mediaScriptFor);
  return keptFile(fileStem(name), made);
}
