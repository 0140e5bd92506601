export * from './print';
