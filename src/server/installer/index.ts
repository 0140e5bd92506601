export { operate, recover, type InstallerPlaces, type Recovered, type Target } from './operate';
export { originalFile } from './originals';
