export { printOf, wholeSolid, type PieceFact, type Print, type PrintReport, type ToldOfPrint } from './print';
export { formOfPrint } from './drawn';
export type { Findings, Marks, ShellFact } from './findings';
export type { Mends } from './repair';
export { PrintSettings, type PrintSettingsGiven } from './settings';
export type { Solid } from './solid';
export { threeMfFiles } from './three-mf';
