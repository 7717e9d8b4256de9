import { useLocalStorage } from '@vueuse/core'
import { watchEffect } from 'vue'

const large = useLocalStorage('waryowl-bench-view', false)
watchEffect(() => document.documentElement.toggleAttribute('data-bench', large.value))

/** Bench view, for eyes a metre away and gloved hands: larger type and targets, remembered on this device. */
export const useBenchView = () => ({ large, turn: () => (large.value = !large.value) })
