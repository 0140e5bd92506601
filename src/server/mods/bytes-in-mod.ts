import { ChangeRow } from '@/db';
import { wholeEntry } from '../looking/preview';
import { changeSlot } from './change-slot';
import { originalEntry } from './original-entry';
import type { OpenedEntry } from '../opening/opened';
import { readBlob } from '../storage/storage';

/** The bytes of an entry as a mod has them by now. */
export async function bytesInMod(
  opened: OpenedEntry,
  modId: number | undefined,
  most?: number,
): Promise<Uint8Array> {
  const change =
    modId === undefined ? null : await ChangeRow.findOne({ where: { modId, ...(await changeSlot(opened)) } });
  if (change?.preparedBlob) return readBlob(change.preparedBlob);
  // Never of what is installed, which may have the changes of another mod, or some that were taken back.
  return wholeEntry(modId === undefined ? opened : await originalEntry(opened), most);
}
