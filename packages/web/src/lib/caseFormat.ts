/**
 * The case format with its checks; loaded when a case is imported, exported or changed by a form, since the
 * bench opens without it.
 */
export { CaseError, checkCaseDocument, packCase, unpackCase } from '@bright-ferry/core/case';
