import { ref, type Ref } from 'vue';

const hovered = ref<string | null>(null);

/** The address that is pointed at, shared by the whole page. */
export const useHovered = (): Ref<string | null> => hovered;
