import { defineStore } from 'pinia'
import { ref } from 'vue'

/** What is on its way to the server, for the brow: waiting counts changes without an answer yet, again what is asked once more. */
export const useSaved = defineStore('saved', () => {
  const waiting = ref(0)
  const again = ref(0)
  return { waiting, again }
})
