import { ref } from 'vue'

export const helpOpen = ref(false)
