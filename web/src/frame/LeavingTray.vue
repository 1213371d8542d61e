<script setup lang="ts">
import { ref } from 'vue'

import { useRebuild, useWanted } from '@/api/strand'
import { count, counted } from '@/marks/format'

import { useEvidence } from './evidence'
import { useKey } from './keys'
import { useLeaveOut, useLeftOut, wordMarked } from './leaving'

/** Words that are left out with the next rebuild, what goes with them, and the rounds so far. */
const { wanted, change, undo } = useWanted()
const { request, select } = useEvidence()
const { leaveOut, leaveTermOut } = useLeaveOut()
const rebuild = useRebuild()
const past = ref(false)
const found = useLeftOut()
function takeBack(word: string) {
  const clean = wanted.value?.clean
  if (!clean) return
  const passes = (clean.passes ?? []).map((pass) =>
    pass.kind === 'domain-words' ? { ...pass, words: (pass.words ?? []).filter((each) => each !== word) } : pass,
  )
  change({ clean: { ...clean, passes } })
}
const when = (at: string) =>
  new Date(at).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' })
useKey('x', 'leave out the marked word, or the selected term', () => {
  const word = wordMarked() || request.value?.word
  if (word) leaveOut(word)
  else if (request.value?.term) leaveTermOut(request.value.term)
})
useKey('X', 'the words left out so far', () => (past.value = !past.value))
defineExpose({ show: () => (past.value = true) })
</script>

<template>
  <div v-if="found?.pending.length" class="tray row wrap" role="region" aria-label="Words to leave out">
    <b>Left out with the next rebuild</b>
    <span
      v-for="each in found.pending.slice(-8)"
      :key="each.word"
      class="chip"
      :title="each.others.length ? `with it go ${each.others.join(', ')}` : 'no other word goes with it'">
      <button class="plain book" @click="select({ word: each.word })">{{ each.word }}</button>
      <span class="soft small">{{ counted(each.tokens, 'token') }} · {{ counted(each.documents, 'document') }}</span>
      <button class="plain" :aria-label="`Take ${each.word} back`" @click="takeBack(each.word)">×</button>
    </span>
    <span v-if="found.pending.length > 8" class="soft small">and {{ count(found.pending.length - 8) }} before</span>
    <span class="soft small grow"
      >in all {{ counted(found.tokens, 'token') }} in {{ counted(found.documents, 'document') }}</span
    >
    <button class="plain link" @click="rebuild.mutate()">apply <kbd>r</kbd></button>
    <button class="plain link" @click="undo()">take back <kbd>u</kbd></button>
    <button class="plain link" @click="past = !past">rounds <kbd>X</kbd></button>
  </div>
  <section v-if="past" class="past" role="dialog" aria-label="Words left out so far" @keydown.esc="past = false">
    <header class="row spread">
      <h2>Words left out so far</h2>
      <button class="plain" aria-label="Close the rounds" @click="past = false">×</button>
    </header>
    <p v-if="!found?.rounds.length" class="soft">None yet. Mark a word or select a term, and press x.</p>
    <ol>
      <li v-for="round in found?.rounds ?? []" :key="round.at">
        <span class="soft small"
          >{{ when(round.at) }}{{ round.by ? `, ${round.by}` : ''
          }}{{ round.looked_at ? `, looking at ${round.looked_at}` : '' }}</span
        ><br />
        <template v-for="(word, at) in round.words" :key="word"
          >{{ at ? ', ' : ''
          }}<s v-if="round.back.includes(word)" class="book" title="it has come back since">{{ word }}</s
          ><span v-else class="book">{{ word }}</span></template
        >
      </li>
    </ol>
  </section>
</template>

<style scoped>
.tray {
  border-top: 1px solid var(--hairline);
  border-left: 3px solid var(--madder);
  background: var(--raised);
  padding: 0.35rem 0.9rem;
}
.past {
  position: absolute;
  right: 1rem;
  bottom: 3rem;
  width: 26rem;
  max-height: 60vh;
  overflow: auto;
  z-index: 30;
  background: var(--raised);
  border: 1px solid var(--hairline);
  box-shadow: var(--shadow);
  padding: 0.7rem 1rem;
}
ol {
  list-style: none;
  margin: 0.4rem 0 0;
  padding: 0;
  display: grid;
  gap: 0.5rem;
}
</style>
