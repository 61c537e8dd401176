export { FORMS, formOf, formsFor, type FormField, type FormSpec, type FormTable } from './spec.ts';
export { formValues, settingsFrom, type FormValues } from './values.ts';
