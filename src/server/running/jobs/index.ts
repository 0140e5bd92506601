export { HELD } from './kinds';
export { jobEvents } from './events';
export {
  JOB_CHANNEL,
  JOB_INPUTS,
  queueOf,
  QUEUES,
  RESUMED,
  type JobInput,
  type JobKind,
  type JobState,
  type Progress,
  type Queue,
} from './kinds';
export {
  announce,
  cancelJob,
  enqueue,
  findJob,
  findJobs,
  onJobViews,
  pauseJob,
  queue,
  resumeJob,
  sendJob,
  viewOf,
  type JobView,
} from './queue';
