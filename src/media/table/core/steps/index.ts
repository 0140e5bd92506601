export { readSteps, type Step } from './read-steps';
export { stepFields } from './step-fields';
export { JUMP, parseVocabulary, type Vocabulary } from './vocabulary';
