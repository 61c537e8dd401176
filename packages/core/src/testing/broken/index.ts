export { lotsOf } from './lots.ts';
export { brokenCase, type BrokenCase, type OwnerAnswer } from './owner.ts';
export { filledIn } from './typed.ts';
