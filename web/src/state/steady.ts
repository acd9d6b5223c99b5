// What a page makes of the plan and its figures, kept as it is for as long as it says the same: then nothing is drawn again.
import { computed, type ComputedRef } from 'vue'
import { kept } from './pointer'

export const steady = <T>(made: () => T): ComputedRef<T> => computed<T>((before) => kept(before, made()))
