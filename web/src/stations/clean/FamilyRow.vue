<script setup lang="ts">
import { ref } from 'vue'

import type { Schemas } from '@/api/client'
import { useEvidence } from '@/frame/evidence'
import { count } from '@/marks/format'

import { useGiven } from './given'

/** A family of words: its members are evidence, and it can be taken apart, or a member moved. */
const props = defineProps<{ family: Schemas['FormFamily'] }>()
const { select, isSelected } = useEvidence()
const { pass, apart, move } = useGiven()
const open = ref(false)
const moving = ref('')
const to = ref('')
function finish() {
  if (to.value.trim()) move(moving.value, to.value.trim())
  moving.value = to.value = ''
}
const words = () => props.family.members.map((each) => each.word)
</script>

<template>
  <div class="family">
    <span class="row baseline">
      <button class="plain book form" :aria-expanded="open" :title="'members of ' + family.form" @click="open = !open">
        {{ family.form }}
      </button>
      <span class="book grow" :class="{ cut: !open }">
        <template v-for="(member, at) in family.members" :key="member.word"
          ><template v-if="at">, </template
          ><button
            class="plain member"
            :class="{ selected: isSelected({ word: member.word }) }"
            @click="select({ word: member.word })">
            {{ member.word }}</button
          ><span class="soft small tokens">{{ count(member.tokens) }}</span></template
        >
      </span>
    </span>
    <div v-if="open && pass" class="row wrap small hand">
      <button class="plain link" @click="apart(words())">take it apart</button>
      <label
        >let
        <select v-model="moving" aria-label="Word to move">
          <option value="">a word</option>
          <option v-for="word in words()" :key="word">{{ word }}</option>
        </select></label
      >
      <template v-if="moving">
        <button class="plain link" @click="(apart([moving]), (moving = ''))">stand alone</button>
        <label
          >or go with <input v-model="to" type="text" aria-label="Form to go with" @keydown.enter="finish"
        /></label>
        <button class="plain link" :disabled="!to.trim()" @click="finish">move it</button>
      </template>
    </div>
  </div>
</template>

<style scoped>
.family {
  border-bottom: 1px solid var(--hairline);
  padding: 0.22rem 0;
}
.baseline {
  align-items: baseline;
}
.form {
  color: var(--woad);
  min-width: 5.5rem;
}
.grow {
  min-width: 0;
}
.tokens {
  margin-left: 0.25rem;
}
.member {
  min-height: 24px;
}
.hand {
  padding: 0.3rem 0 0.2rem 5.5rem;
}
input {
  width: 7rem;
}
</style>
