export { readSteps, type Step } from './read-steps';
export { stepAt, withStepNumbers } from './write-steps';
export { stepFields } from './step-fields';
export { JUMP, parseVocabulary, type Vocabulary } from './vocabulary';
export { resizedSteps, type StepChange } from './resize-steps';
