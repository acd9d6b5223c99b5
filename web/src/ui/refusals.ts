// A form that is sent as a whole must not be sent while one of its fields shows something that was refused: the value
// behind that field is still the last good one.
import { computed, inject, onBeforeUnmount, provide, reactive, useId, watch } from 'vue'
import type { ComputedRef, InjectionKey, Ref } from 'vue'

const key: InjectionKey<Set<string>> = Symbol('refusals')

/** Gathers the refusals of every field below; tells whether there are any. */
export function useRefusals(): ComputedRef<boolean> {
  const refused = reactive(new Set<string>())
  provide(key, refused)
  return computed(() => refused.size > 0)
}

/** Tells the form, if the field is in one, while what it shows is refused or not read yet. */
export function tellRefusal(stands: Ref<boolean>): void {
  const refused = inject(key, null)
  if (!refused) return
  const id = useId()
  watch(stands, (now) => (now ? refused.add(id) : refused.delete(id)))
  onBeforeUnmount(() => refused.delete(id))
}
