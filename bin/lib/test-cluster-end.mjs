// Ends what test-cluster.mjs began.
import { teardown } from './test-cluster.mjs';

export default teardown;
