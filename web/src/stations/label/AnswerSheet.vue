<script setup lang="ts">
import Button from 'primevue/button'
import { computed, nextTick, onBeforeUnmount, onMounted, ref, watch } from 'vue'

import Waiting from '@/frame/Waiting.vue'
import { counted } from '@/marks/format'

import { useAnswers, useQuestions, type Check } from './checks'

/** Answer the questions of a check by keyboard, without seeing anything of the model. */
const props = defineProps<{ check: Check; rater: string }>()
const emit = defineEmits<{ close: [] }>()
const query = useQuestions(
  () => props.check.id,
  () => props.rater,
)
const send = useAnswers()
const answers = ref<(number | null)[]>([])
const at = ref(0)
const sheet = ref<HTMLElement>()
const heading = ref<HTMLElement>()
watch(
  () => (query.isPlaceholderData.value ? undefined : query.data.value),
  (found) => {
    if (!found || answers.value.length) return
    answers.value = [...found.answers]
    at.value = Math.max(0, found.answers.indexOf(null))
  },
  { immediate: true },
)
const questions = computed(() => query.data.value?.questions ?? [])
const question = computed(() => questions.value[at.value])
const done = computed(() => answers.value.filter((each) => each !== null).length)
const keep = () => send({ check: props.check.id, rater: props.rater, answers: answers.value })
async function move(by: number) {
  at.value = Math.min(questions.value.length, Math.max(0, at.value + by))
  await nextTick()
  heading.value?.focus()
}
function answer(place: number | null) {
  answers.value = answers.value.map((each, index) => (index === at.value ? place : each))
  keep()
  move(1)
}
function onKey(event: KeyboardEvent) {
  if (event.ctrlKey || event.metaKey || event.altKey) return
  const place = Number(event.key) - 1
  if (event.key === 'Escape') emit('close')
  else if (event.key === 'ArrowLeft' || event.key === 'Backspace') move(-1)
  else if (event.key === 'ArrowRight') move(1)
  else if (event.key === '0') answer(null)
  else if (question.value && place >= 0 && place < question.value.options.length) answer(place)
  else if (event.key.length > 1) return // tabulator and enter are the page's own
  event.preventDefault()
  event.stopPropagation()
}
// Before the keys of the stations, which are numbers too.
onMounted(() => {
  window.addEventListener('keydown', onKey, true)
  nextTick(() => sheet.value?.focus())
})
onBeforeUnmount(() => window.removeEventListener('keydown', onKey, true))
</script>

<template>
  <Teleport to="body">
    <div class="veil" @click="emit('close')" />
    <section ref="sheet" class="sheet" role="dialog" aria-modal="true" :aria-label="check.title" tabindex="-1">
      <header>
        <b>{{ rater }}</b>
        <span class="soft grow">{{ done }} of {{ counted(questions.length, 'question') }} answered</span>
        <button class="plain" @click="emit('close')">close <kbd>esc</kbd></button>
      </header>
      <div class="body">
        <progress :max="Math.max(1, questions.length)" :value="done" aria-label="Answered" />
        <p v-if="query.error.value" class="notice bad">{{ query.error.value.message }}</p>
        <Waiting v-else-if="!query.data.value" what="Laying out the questions" />
        <template v-else-if="question">
          <h1 ref="heading" tabindex="-1">{{ query.data.value.prompt }}</h1>
          <p v-if="question.text" class="book text" tabindex="0" role="region" aria-label="Text">{{ question.text }}</p>
          <ol>
            <li v-for="(option, place) in question.options" :key="place">
              <button class="plain option" :aria-pressed="answers[at] === place" @click="answer(place)">
                <kbd>{{ place + 1 }}</kbd> {{ option }}
              </button>
            </li>
          </ol>
          <p class="row wrap soft small">
            <button class="plain link" @click="move(-1)">back <kbd>←</kbd></button>
            <button class="plain link" @click="answer(null)">leave it out <kbd>0</kbd></button>
            question {{ at + 1 }} of {{ questions.length }}
          </p>
        </template>
        <template v-else>
          <h1 ref="heading" tabindex="-1">That was all. Thank you, {{ rater }}.</h1>
          <p>{{ done }} of {{ counted(questions.length, 'question') }} have an answer.</p>
          <Button label="Close" @click="emit('close')" />
        </template>
      </div>
    </section>
  </Teleport>
</template>

<style scoped>
.body {
  display: grid;
  gap: 0.8rem;
  align-content: start;
  width: min(50rem, 100%);
  margin: 0 auto;
}
progress {
  width: 100%;
  accent-color: var(--woad);
  height: 8px;
}
.text {
  font-size: 1.15rem;
  line-height: 1.6;
  white-space: pre-line;
  border-left: 3px solid var(--hairline);
  padding-left: 1rem;
  max-height: 42vh;
  overflow: auto;
  margin: 0;
}
h1:focus-visible {
  outline: none;
}
ol {
  list-style: none;
  padding: 0;
  margin: 0;
  display: grid;
  gap: 0.3rem;
}
.option {
  display: block;
  width: 100%;
  min-height: 34px;
  padding: 0.3rem 0.6rem;
  border: 1px solid var(--hairline);
  font-size: 1.05rem;
}
.option:hover {
  border-color: var(--woad);
}
.option[aria-pressed='true'] {
  border-color: var(--woad);
  box-shadow: inset 4px 0 0 var(--woad);
}
kbd {
  margin-right: 0.4rem;
}
</style>
