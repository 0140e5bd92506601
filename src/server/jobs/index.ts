export { jobEvents } from './events';
export {
  JOB_CHANNEL,
  JOB_INPUTS,
  JOB_QUEUE,
  type JobInput,
  type JobKind,
  type JobState,
  type Progress,
} from './kinds';
export { announce, cancelJob, enqueue, findJob, findJobs, queue, viewOf, type JobView } from './queue';
