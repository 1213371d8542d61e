<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref, watch } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { count } from '@/marks/format'

import type { Preview, Settings } from '@/frame/uploads'

const props = defineProps<{ file: Preview }>()
const emit = defineEmits<{ change: [Partial<Settings>] }>()
const selector = ref(props.file.settings.selector)
watch(
  () => props.file.settings.selector,
  (now) => (selector.value = now ?? ''),
)
const tried = ref<Schemas['PagePart'][]>([])
const fault = ref('')
const at = ref(0)
const settings = computed(() => props.file.settings)
const page = computed(() => tried.value[Math.min(at.value, tried.value.length - 1)])

async function attempt() {
  try {
    tried.value = await ask(
      client.POST('/api/uploads/{sha256}/pages', {
        params: { path: { sha256: props.file.sha256 }, query: { name: props.file.name } },
        body: { ...settings.value, selector: selector.value },
      }),
    )
    fault.value = ''
  } catch (problem) {
    fault.value = (problem as Error).message
  }
}
function use() {
  emit('change', { selector: selector.value })
}
const value = (event: Event) => (event.target as HTMLSelectElement).value as Settings['page']
</script>

<template>
  <div class="part">
    <div class="row wrap">
      <label v-if="!file.asks.includes('page')" class="row small">
        <input
          type="checkbox"
          :checked="settings.html_text"
          @change="emit('change', { html_text: !settings.html_text })" />
        the text field holds HTML pages
      </label>
      <label class="row small">
        of each page take
        <select
          :value="settings.page"
          @change="
            emit('change', { page: value($event), selector: value($event) === 'selector' ? selector || 'body' : '' })
          ">
          <option value="main">its main text</option>
          <option value="whole">the whole</option>
          <option value="selector">the part a selector names</option>
        </select>
      </label>
      <template v-if="settings.page === 'selector'">
        <input
          v-model="selector"
          class="typed selector"
          aria-label="CSS selector"
          placeholder="article, .entry p"
          @keydown.enter="attempt" />
        <Button label="Use it" size="small" severity="secondary" @click="use" />
      </template>
      <Button label="Try it on a page" size="small" severity="secondary" @click="attempt" />
    </div>
    <p v-if="fault" class="notice bad">{{ fault }}</p>
    <div v-if="page" class="pages">
      <div class="row spread small">
        <b class="cut">{{ page.name }}</b>
        <span class="soft">
          {{ count(page.found.length) }} of {{ count(page.whole.length) }} characters
          <button v-if="tried.length > 1" class="plain link" @click="at = (at + 1) % tried.length">next page</button>
        </span>
      </div>
      <div class="sides">
        <div class="book" tabindex="0" role="region" aria-label="The part">
          {{ page.found || 'Nothing: this page has no such part.' }}
        </div>
        <div class="book soft" tabindex="0" role="region" aria-label="The whole page">{{ page.whole }}</div>
      </div>
    </div>
  </div>
</template>

<style scoped>
.part {
  display: grid;
  gap: 0.5rem;
}
.selector {
  width: 16rem;
}
.sides {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 1rem;
}
.sides > div {
  max-height: 11rem;
  overflow: auto;
  white-space: pre-line;
  background: var(--raised);
  border: 1px solid var(--hairline);
  padding: 0.5rem 0.7rem;
}
</style>
