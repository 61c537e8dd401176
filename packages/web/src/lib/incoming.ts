import { onBeforeUnmount, onMounted, ref, type Ref } from 'vue';

/** What a page does with what comes in. */
export interface Taking {
  readonly text: (text: string) => void;
  readonly files: (files: readonly File[]) => void;
  /** Nothing comes in while something else is open. */
  readonly isClosed: () => boolean;
}

const isEditing = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement && ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName);

function take(data: DataTransfer | null, { text, files }: Taking): boolean {
  const dropped = [...(data?.files ?? [])];
  const words = data?.getData('text/plain') ?? '';
  if (dropped.length > 0) files(dropped);
  else if (words !== '') text(words);
  return dropped.length > 0 || words !== '';
}

/** Takes what is pasted anywhere on a page but in its fields, and what is dropped on it. */
export function useIncoming(taking: Taking): {
  readonly dragging: Ref<boolean>;
  readonly drop: (e: DragEvent) => void;
} {
  const dragging = ref(false);

  function paste(event: ClipboardEvent): void {
    if (isEditing(event.target) || taking.isClosed()) return;
    if (take(event.clipboardData, taking)) event.preventDefault();
  }

  function drop(event: DragEvent): void {
    event.preventDefault();
    dragging.value = false;
    take(event.dataTransfer, taking);
  }

  onMounted(() => window.addEventListener('paste', paste));
  onBeforeUnmount(() => window.removeEventListener('paste', paste));
  return { dragging, drop };
}
