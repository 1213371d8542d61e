<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'

import { ask, client, type Schemas } from '@/api/client'
import { count } from '@/marks/format'

import type { Preview } from '@/frame/uploads'

type Node = Schemas['OutlineRecord']
const props = defineProps<{ file: Preview }>()
const emit = defineEmits<{ choose: [string] }>()
const root = ref<Node>()
const fault = ref('')
const closed = ref(new Set<string>())

watch(
  () => [props.file.sha256, props.file.settings.format],
  async () => {
    try {
      root.value = await ask(
        client.POST('/api/uploads/{sha256}/outline', {
          params: { path: { sha256: props.file.sha256 }, query: { name: props.file.name } },
          body: props.file.settings,
        }),
      )
      fault.value = ''
    } catch (problem) {
      fault.value = (problem as Error).message
    }
  },
  { immediate: true },
)
const list = ref<HTMLElement>()
watch(
  () => root.value,
  async () => {
    await nextTick()
    const chosenLine = list.value?.querySelector('.chosen') as HTMLElement | null
    if (list.value && chosenLine) list.value.scrollTop = chosenLine.offsetTop - list.value.clientHeight / 3
  },
)
const chosen = computed(() => props.file.settings.records ?? '')

interface Line {
  node: Node
  depth: number
  inside: boolean
}
/** The tree as lines, without what is folded. */
const lines = computed(() => {
  const out: Line[] = []
  const walk = (node: Node, depth: number) => {
    const inside = node.path !== chosen.value && `${node.path}/`.startsWith(chosen.value ? `${chosen.value}/` : '')
    out.push({ node, depth, inside })
    if (!closed.value.has(node.path)) for (const child of node.children) walk(child, depth + 1)
  }
  if (root.value) walk(root.value, 0)
  return out
})
const holds = (node: Node) => node.lists || (node.children.length > 0 && node.count > 1) || node.path === ''
function fold(path: string) {
  const next = new Set(closed.value)
  if (!next.delete(path)) next.add(path)
  closed.value = next
}
</script>

<template>
  <div ref="list" class="tree">
    <p class="small soft">Click on what is one document. Its fields, and those of what holds it, become columns.</p>
    <p v-if="fault" class="notice bad">{{ fault }}</p>
    <ul>
      <li v-for="{ node, depth, inside } in lines" :key="node.path" :style="{ paddingLeft: `${depth * 1.1}rem` }">
        <button
          v-if="node.children.length"
          class="plain fold"
          :aria-label="`${closed.has(node.path) ? 'Unfold' : 'Fold'} ${node.name || 'the file'}`"
          :aria-expanded="!closed.has(node.path)"
          @click="fold(node.path)">
          {{ closed.has(node.path) ? '▸' : '▾' }}
        </button>
        <span v-else class="fold" />
        <button
          v-if="holds(node)"
          class="plain name"
          :class="{ chosen: node.path === chosen }"
          :aria-pressed="node.path === chosen"
          @click="emit('choose', node.path)">
          <b>{{ node.name || 'the whole file' }}</b>
          <span class="soft numbers times">{{ count(node.count) }}</span>
          <span v-if="node.path === chosen"> ← one document each</span>
        </button>
        <span v-else class="name" :class="{ inside }">{{ node.name }}</span>
        <span v-if="node.of > 1 && node.holders < node.of" class="loss small numbers">
          in {{ count(node.holders) }} of {{ count(node.of) }}
        </span>
        <span v-if="node.example" class="soft small example cut">{{ node.example }}</span>
      </li>
    </ul>
  </div>
</template>

<style scoped>
.tree {
  border: 1px solid var(--hairline);
  background: var(--raised);
  padding: 0.6rem 0.8rem;
  max-height: 15rem;
  overflow: auto;
  position: relative;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  align-items: baseline;
  gap: 0.4rem;
  padding: 0.08rem 0;
}
.fold {
  width: 1rem;
  color: var(--soft);
  flex: none;
}
.name {
  padding: 0 0.3rem;
  white-space: nowrap;
}
button.name:hover {
  background: var(--woad-wash);
}
.times {
  margin-left: 0.4rem;
}
.chosen {
  box-shadow: inset 0 -3px var(--woad);
}
.inside {
  color: var(--woad);
}
.example {
  font-family: var(--book);
  min-width: 0;
}
</style>
