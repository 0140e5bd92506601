export { jobEvents } from './events';
export {
  JOB_CHANNEL,
  JOB_INPUTS,
  JOB_QUEUE,
  RESUMED,
  type JobInput,
  type JobKind,
  type JobState,
  type Progress,
} from './kinds';
export {
  announce,
  cancelJob,
  enqueue,
  findJob,
  findJobs,
  pauseJob,
  queue,
  resumeJob,
  viewOf,
  type JobView,
} from './queue';
