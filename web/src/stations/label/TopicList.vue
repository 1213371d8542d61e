<script setup lang="ts">
import { computed } from 'vue'

import type { Topic } from '@/api/client'
import { useSinceBefore, useTopics } from '@/api/topics'
import SinceBefore from '@/frame/SinceBefore.vue'
import Swatch from '@/marks/Swatch.vue'
import { decimal, percent, within } from '@/marks/format'
import { colour } from '@/marks/dyes'

import { progressOf } from './progress'

const props = defineProps<{ topics: Topic[]; current: number }>()
defineEmits<{ pick: [number] }>()
const { measures, sharesOf } = useTopics()
const { became } = useSinceBefore()
const most = computed(() => Math.max(...props.topics.map((topic) => topic.share.high ?? topic.share.mean)))
const progress = computed(() => progressOf(props.topics))
const place = (share: number) => `${(100 * share) / most.value}%`
</script>

<template>
  <div class="list" role="region" aria-label="Topics">
    <div class="row spread">
      <h1>Topics</h1>
      <span class="soft small">{{ progress.named }} of {{ progress.of }} named</span>
    </div>
    <p class="done" :title="`${progress.named} of ${progress.of} topics have a name`" aria-hidden="true">
      <i :style="{ width: `${(100 * progress.named) / Math.max(1, progress.of)}%` }" />
    </p>
    <p class="soft small">
      {{ progress.left ? `${progress.left} left` : 'none left'
      }}{{ progress.later ? `, ${progress.later} put off` : '' }} · by share
    </p>
    <button
      v-for="topic in topics"
      :key="topic.topic"
      class="plain topic"
      :class="{ current: topic.topic === current, aside: topic.set_aside }"
      :aria-current="topic.topic === current"
      @click="$emit('pick', topic.topic)">
      <Swatch :dye="topic.dye" />
      <span class="grow">
        <span class="called">
          <component :is="topic.confirmed ? 'b' : 'em'" class="cut" :class="{ soft: !topic.confirmed }">{{
            topic.title
          }}</component>
          <small v-if="topic.later && !topic.confirmed" class="soft">later</small>
          <small
            v-if="became(topic.topic) && !topic.confirmed"
            class="second"
            :title="`${became(topic.topic)} since the fit before: look again`"
            >{{ became(topic.topic) }}</small
          >
        </span>
        <span class="thread">
          <i :style="{ width: place(topic.share.mean), background: colour(topic.dye) }" />
          <i
            class="whisker"
            :style="{
              left: place(topic.share.low ?? topic.share.mean),
              width: `calc(${place(topic.share.high ?? topic.share.mean)} - ${place(topic.share.low ?? topic.share.mean)})`,
            }" />
        </span>
      </span>
      <span class="numbers right"
        >{{ percent(topic.share.mean)
        }}<small class="soft">{{ decimal(topic.measures[measures[0]?.key ?? '']) }}</small></span
      >
    </button>
    <p class="soft small">
      Share of {{ sharesOf }} with 95 % interval<template v-if="measures[0]"
        >;
        <span :title="measures[0].rewards">{{ within(measures[0].title) }}</span>
        below it</template
      >. Italic: suggested, not yet confirmed.
    </p>
    <SinceBefore />
  </div>
</template>

<style scoped>
.list {
  min-width: 0;
}
.done {
  position: relative;
  height: 4px;
  margin: 0.2rem 0;
  background: var(--hairline);
}
.done i {
  top: 0;
  height: 4px;
  background: var(--lichen);
}
.called {
  display: flex;
  gap: 0.4rem;
  align-items: baseline;
  min-width: 0;
}
.second {
  color: var(--madder);
}
.topic {
  display: flex;
  gap: 0.7rem;
  align-items: center;
  width: 100%;
  padding: 0.42rem 0.5rem;
  border-left: 3px solid transparent;
}
.topic:hover {
  background: var(--woad-wash);
}
.current {
  background: var(--raised);
  border-left-color: var(--woad);
}
.aside {
  opacity: 0.62;
}
.block {
  display: block;
}
.thread {
  display: block;
  position: relative;
  height: 6px;
  margin-top: 4px;
}
i {
  position: absolute;
  top: 1px;
  height: 3px;
}
.whisker {
  top: 2px;
  height: 1.5px;
  background: var(--ink);
}
.right {
  text-align: right;
}
.right small {
  display: block;
}
</style>
