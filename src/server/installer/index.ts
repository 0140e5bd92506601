export { operate, recover, type InstallerPlaces, type Recovered, type Target } from './operate';
export { copyFlushed, keepOriginal, originalFile } from './originals';
