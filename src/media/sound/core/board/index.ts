export * from './board';
