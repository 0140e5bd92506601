import { EventEmitter } from 'node:events';

declare global {
  var zeroLatchDeskEvents: EventEmitter | undefined;
}

/** Tells of each change of lines of a mod, `changed` with its number. */
export const deskEvents = (): EventEmitter =>
  (globalThis.zeroLatchDeskEvents ??= new EventEmitter().setMaxListeners(0));

export const notify = (modId: number): void => void deskEvents().emit('changed', modId);
