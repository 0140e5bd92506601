import { create } from 'content-disposition';
import type { PrintSettings } from '@/media/model/core/print/settings';
import { packedPrint, printFile, type PrintFile } from '@/media/model/node/print';
import type { OpenedEntry } from '../opening/opened';
import { mediaScriptFor } from '../opening/scripts';
import { hasLookThread, lookBeside } from './look-threads';
import { wholeEntry } from './preview';

const NOT_KEPT = { 'cache-control': 'private, max-age=0, must-revalidate' };

/** A model as it would be printed: packed to be drawn, with what was found and done. Worked out beside the server. */
export async function printResponse(opened: OpenedEntry, settings: PrintSettings): Promise<Response> {
  const { path: name } = opened.entry;
  const bytes = wholeEntry(opened);
  const packed = hasLookThread()
    ? await lookBeside('print', { bytes, name, settings })
    : await packedPrint(bytes, name, settings, mediaScriptFor);
  return new Response(packed as Uint8Array<ArrayBuffer>, {
    headers: { 'content-type': 'application/octet-stream', ...NOT_KEPT },
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
  const stem = name.slice(name.lastIndexOf('/') + 1).replace(/\.[^.]*$/, '');
  return new Response(made.bytes as Uint8Array<ArrayBuffer>, {
    headers: {
      'content-type': made.ending === 'zip' ? 'application/zip' : `model/${made.ending}`,
      'content-disposition': create(`${stem}.${made.ending}`),
      ...NOT_KEPT,
    },
  });
}
