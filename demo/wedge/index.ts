import photoUrl from './rust-wedge.jpg?url';
import facts from './rust-wedge.json';

/** The simulated photo of a step wedge: where it is served, and how its wedge was made. */
export const DEMO_WEDGE = { ...facts, url: photoUrl };
