export * from './edits';
export * from './join';
