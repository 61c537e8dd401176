export { handover, handoverMarkdown, type Handover, type HandoverBlock } from './handover.ts';
