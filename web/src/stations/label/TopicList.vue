<script setup lang="ts">
import { computed } from 'vue'

import type { Topic } from '@/api/client'
import { useTopics } from '@/api/topics'
import Swatch from '@/marks/Swatch.vue'
import { decimal, percent } from '@/marks/format'
import { colour } from '@/marks/dyes'

const props = defineProps<{ topics: Topic[]; current: number }>()
defineEmits<{ pick: [number] }>()
const { measures } = useTopics()
const most = computed(() => Math.max(...props.topics.map((topic) => topic.share.high ?? topic.share.mean)))
const place = (share: number) => `${(100 * share) / most.value}%`
</script>

<template>
  <div class="list" role="region" aria-label="Topics">
    <div class="row spread">
      <h1>Topics</h1>
      <span class="soft small">by share</span>
    </div>
    <button
      v-for="topic in topics"
      :key="topic.topic"
      class="plain topic"
      :class="{ current: topic.topic === current, aside: topic.set_aside }"
      :aria-current="topic.topic === current"
      @click="$emit('pick', topic.topic)">
      <Swatch :dye="topic.dye" />
      <span class="grow">
        <component :is="topic.confirmed ? 'b' : 'em'" class="cut block" :class="{ soft: !topic.confirmed }">{{
          topic.title
        }}</component>
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
      Share of tokens with 95 % interval<template v-if="measures[0]"
        >; <span :title="measures[0].about">{{ measures[0].title.toLowerCase() }}</span> below it</template
      >. Italic: suggested, not yet confirmed.
    </p>
  </div>
</template>

<style scoped>
.list {
  min-width: 0;
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
