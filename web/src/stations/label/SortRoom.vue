<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref, watch } from 'vue'

import type { Topic } from '@/api/client'
import { useTakeFit, useTopics } from '@/api/topics'
import { useEvidence } from '@/frame/evidence'
import { useJob } from '@/frame/jobs'
import { useKey } from '@/frame/keys'
import Swatch from '@/marks/Swatch.vue'
import { counted, decimal, percent } from '@/marks/format'

import FamilySwatch from './FamilySwatch.vue'
import KeptLabels from './KeptLabels.vue'
import { familiesOf } from './families'
import { useMerge, useMergePreview, useMerging } from './label'
import { useReading } from './reading'

/** Topics in families, taken together or set aside, with what speaks for it. */
const { topics, fit, label, dye } = useTopics()
const { select, isSelected } = useEvidence()
const edit = useReading()
const merging = useMerging()
const merge = useMerge()
const take = useTakeFit()
const { atWork } = useJob('fit')
const chosen = ref<number[]>([])
const family = ref('')
watch(fit, () => (chosen.value = []))
const families = computed(() => familiesOf(topics.value))
const names = computed(() => [...new Set(topics.value.map((topic) => topic.family).filter(Boolean))])
const preview = useMergePreview(chosen)
const picked = computed(() => topics.value.filter((topic) => chosen.value.includes(topic.topic)))
const hints = computed(() => merging.data.value)
function toggle(topic: Topic) {
  const at = topic.topic
  chosen.value = chosen.value.includes(at) ? chosen.value.filter((each) => each !== at) : [...chosen.value, at].sort()
}
async function put(name: string, of: Topic[] = picked.value) {
  await edit.saveAll(of, { family: name.trim() })
  chosen.value = []
  family.value = ''
}
async function useSuggested() {
  for (const hint of hints.value?.families ?? [])
    await edit.saveAll(
      hint.topics.map((at) => topics.value[at]),
      { family: hint.name },
    )
}
const mergeChosen = () => merge.mutate({ fit: fit.value ?? '', topics: chosen.value })
useKey('m', 'merge the chosen topics', () => chosen.value.length > 1 && mergeChosen())
useKey('u', 'undo the last change of a topic', () => edit.undo())
</script>

<template>
  <div class="two sort">
    <section aria-label="Topics by family">
      <div class="row wrap spread">
        <h1>Topics in families</h1>
        <span class="soft small">choose topics to merge, sort or set aside; <kbd>u</kbd> takes a change back</span>
      </div>
      <div v-for="each in families" :key="each.name" class="family">
        <h2 class="row">
          <FamilySwatch v-if="each.name" :dyes="each.topics.map((topic) => topic.dye)" />
          <span>{{ each.name || (families.length > 1 ? 'In no family' : 'No families yet') }}</span>
          <small class="soft numbers">{{ percent(each.share) }} · {{ counted(each.topics.length, 'topic') }}</small>
          <button v-if="each.name" class="plain link small" @click="put('', each.topics)">dissolve</button>
        </h2>
        <div
          v-for="topic in each.topics"
          :key="topic.topic"
          class="topic"
          :class="{ aside: topic.set_aside, current: isSelected({ topic: topic.topic }), indent: each.name }">
          <input
            type="checkbox"
            :checked="chosen.includes(topic.topic)"
            :aria-label="`Choose ${topic.title}`"
            @change="toggle(topic)" />
          <Swatch :dye="topic.dye" />
          <button class="plain grow cut" @click="select({ topic: topic.topic })">
            <component :is="topic.confirmed ? 'b' : 'em'">{{ topic.title }}</component>
            <small v-if="topic.set_aside" class="soft"> set aside</small>
          </button>
          <small class="soft cut words">{{
            topic.words
              .slice(0, 5)
              .map((word) => word.display)
              .join(', ')
          }}</small>
          <span class="numbers">{{ percent(topic.share.mean) }}</span>
        </div>
      </div>
    </section>
    <aside>
      <section class="ruled-top" aria-label="The chosen topics">
        <h2>{{ chosen.length ? counted(chosen.length, 'topic') + ' chosen' : 'Nothing chosen' }}</h2>
        <p v-if="!chosen.length" class="soft">
          Tick topics on the left: two or more can be one, several can be a family.
        </p>
        <template v-else>
          <form class="row wrap" @submit.prevent="put(family)">
            <input
              v-model="family"
              class="typed"
              list="families"
              maxlength="200"
              placeholder="name of a family"
              aria-label="Family" />
            <datalist id="families"><option v-for="name in names" :key="name" :value="name" /></datalist>
            <Button
              type="submit"
              size="small"
              severity="secondary"
              label="Put in this family"
              :disabled="!family.trim()" />
            <Button
              size="small"
              severity="secondary"
              :label="picked.every((topic) => topic.set_aside) ? 'Take back in' : 'Set aside'"
              @click="edit.saveAll(picked, { set_aside: !picked.every((topic) => topic.set_aside) })" />
          </form>
          <template v-if="chosen.length > 1">
            <h3>If they were one</h3>
            <ul v-if="preview.data.value && !preview.isPlaceholderData.value">
              <li v-for="said in preview.data.value.says" :key="said">{{ said }}</li>
            </ul>
            <p v-else-if="preview.error.value" class="notice bad">{{ preview.error.value.message }}</p>
            <Button
              size="small"
              :label="`Merge ${counted(chosen.length, 'topic')} (m)`"
              :disabled="!!preview.error.value || !!atWork"
              :loading="merge.isPending.value || !!atWork"
              @click="mergeChosen" />
          </template>
        </template>
        <p v-if="hints?.before" class="notice row wrap">
          <span class="grow">Topics of this fit were merged.</span>
          <Button
            size="small"
            severity="secondary"
            label="Take the fit before back"
            @click="take.mutate(hints.before)" />
        </p>
      </section>
      <section v-if="hints" aria-label="What speaks for it" class="ruled-top">
        <h2>Most alike</h2>
        <p v-for="pair in hints.pairs.slice(0, 4)" :key="`${pair.one} ${pair.other}`" class="pair">
          <button class="plain row" :title="`Choose both`" @click="chosen = [pair.one, pair.other]">
            <span class="row"><Swatch :dye="dye(pair.one)" />{{ label(pair.one) }}</span>
            <span class="soft">and</span>
            <span class="row"><Swatch :dye="dye(pair.other)" />{{ label(pair.other) }}</span>
          </button>
          <small class="soft"
            >{{ decimal(pair.alike) }} alike<template v-if="pair.says">; {{ pair.says }}</template></small
          >
        </p>
        <h2>Several in one</h2>
        <p v-if="!hints.looked_in" class="soft small">
          There is no other fit of this matrix with as many topics or more.
          <RouterLink to="choose">Sweep more counts</RouterLink>, and what they tell apart stands here.
        </p>
        <p v-else-if="!hints.splits.length" class="soft small">
          None: no topic of this fit is several in half of {{ counted(hints.looked_in, 'other fit') }}.
        </p>
        <p v-for="hint in hints.splits" :key="hint.topic" class="pair">
          <button class="plain row" @click="select({ topic: hint.topic })">
            <Swatch :dye="dye(hint.topic)" />{{ label(hint.topic) }}
          </button>
          <small class="soft">{{ hint.says }}: {{ hint.parts.join(' / ') }}</small>
        </p>
        <h2>Families by likeness of words</h2>
        <p v-for="hint in hints.families" :key="hint.name" class="pair">
          <span class="row wrap"
            ><FamilySwatch :dyes="hint.topics.map(dye)" /><b>{{ hint.name }}</b>
            <span class="soft">{{ hint.topics.map(label).join(', ') }}</span></span
          >
        </p>
        <p v-if="!hints.families.length" class="soft small">None stands out.</p>
        <Button v-else size="small" severity="secondary" label="Sort them so" @click="useSuggested" />
      </section>
      <KeptLabels />
    </aside>
  </div>
</template>

<style scoped>
.sort {
  grid-template-columns: minmax(0, 1.1fr) minmax(0, 1fr);
  align-items: start;
}
.family h2 {
  gap: 0.6rem;
  margin: 0.8rem 0 0.2rem;
}
.topic {
  display: flex;
  gap: 0.6rem;
  align-items: center;
  padding: 0.22rem 0.3rem;
  border-top: 1px solid var(--hairline);
  min-height: 30px;
}
.indent {
  margin-left: 1.2rem;
}
.current {
  background: var(--raised);
}
.aside {
  opacity: 0.7;
}
.words {
  max-width: 11rem;
}
.ruled-top {
  border-top: 1px solid var(--soft);
  padding-top: 0.4rem;
  margin-bottom: 0.8rem;
}
.ruled-top h2 {
  margin: 0.5rem 0 0.2rem;
}
.ruled-top h2:first-child {
  margin-top: 0;
}
ul {
  margin: 0.2rem 0 0.6rem;
  padding-left: 1.1rem;
}
.pair {
  margin: 0.2rem 0;
}
.pair button {
  gap: 0.4rem;
  min-height: 24px;
  flex-wrap: wrap;
}
.pair .row {
  gap: 0.4rem;
}
.pair > small {
  display: block;
}
@media (max-width: 1180px) {
  .sort {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
