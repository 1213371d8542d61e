<script setup lang="ts">
import { computed } from 'vue'
import { useRouter } from 'vue-router'

import { openChoice, useHolds, useTakeOff, useTrials, type HeldMark, type PinnedEntry, type Verdict } from '@/api/holds'
import { useStrandId } from '@/api/strand'
import JobNotice from '@/frame/JobNotice.vue'
import Waiting from '@/frame/Waiting.vue'
import { useAddress } from '@/frame/address'
import { useEvidence } from '@/frame/evidence'
import { useJob } from '@/frame/jobs'
import { say } from '@/frame/notices'
import ChartFrame from '@/marks/ChartFrame.vue'
import WorkingLines from '@/marks/WorkingLines.vue'
import { counted } from '@/marks/format'

import HeldCell from './HeldCell.vue'
import HeldKnot from './HeldKnot.vue'
import { left, letter, marksOf } from './holds'

/** Pinned statements, each tested over other reasonable choices: a row of knots for every choice. */
const { get, list, set } = useAddress()
const { select } = useEvidence()
const query = useHolds()
const takeOff = useTakeOff()
const test = useTrials()
const strandId = useStrandId()
const router = useRouter()
const { told } = useJob('trials')
const found = computed(() => query.data.value)
const pins = computed(() => found.value?.pins ?? [])
const keys = computed(() => (found.value?.kinds ?? []).flatMap((kind) => kind.choices.map((each) => each.key)))
/** Choices that are left out of the next test; all are in it to begin with. */
const out = computed(() => new Set(list('out')))
const over = computed(() => new Set(keys.value.filter((each) => !out.value.has(each))))
const toDo = computed(() => (found.value ? left(found.value, over.value) : { results: 0, tests: 0 }))
const present = computed(() => pins.value.filter((each) => !each.of_before))
const run = () => test.mutate({ pins: present.value.map((each) => each.id), over: [...over.value] })
function toggle(keysOf: string[], on: boolean) {
  const next = new Set(out.value)
  for (const each of keysOf)
    if (on) next.delete(each)
    else next.add(each)
  set({ out: [...next].sort() })
}
/** The knot that is open: its statement and choice. */
const opened = computed(() => {
  const pin = pins.value.find((each) => String(each.id) === get('pin'))
  const mark = pin && (get('with') ? marksOf(pin, get('with'))[0] : pin.mark)
  return pin && mark ? { pin, mark, name: letter(pins.value.indexOf(pin)) } : undefined
})
const pick = (pin: PinnedEntry, mark: HeldMark) => set({ pin: String(pin.id), with: mark.key })
const isOpen = (pin: PinnedEntry, mark: HeldMark) =>
  opened.value?.pin.id === pin.id && opened.value.mark.key === mark.key
const documents = (pin: PinnedEntry) =>
  select({
    ...(pin.word ? { term: pin.word } : { topic: pin.topic! }),
    ...(pin.field && pin.sides[0].value ? { field: pin.field, value: pin.sides[0].value } : {}),
    ...(pin.sides[0].at ? { at: pin.sides[0].at } : {}),
  })
async function asStrand(pin: PinnedEntry, mark: HeldMark) {
  try {
    const strand = await openChoice(strandId.value, pin.id, mark.key)
    const [one, other] = pin.sides
    const sides = { av: one.value, a: one.at, bv: other?.value, b: other?.at }
    const query = pin.word ? { part: 'words' } : { part: 'two', by: pin.field ?? 'none', ...sides }
    router.push({ path: `/strand/${strand}/${pin.word ? 'relate' : 'track'}`, query })
  } catch (fault) {
    say((fault as Error).message, 'bad')
  }
}
const HEADER = ['statement', 'kind of choice', 'choice', 'comes out', 'estimate', 'low 95 %', 'high 95 %']
const rows = computed(() =>
  pins.value.flatMap((pin) =>
    [pin.mark, ...pin.marks]
      .filter((each) => each?.verdict)
      .map((each) => [
        ...[pin.sentence, each!.kind, each!.title, found.value!.verdicts[each!.verdict!]!],
        ...[each!.estimate, each!.low, each!.high],
      ]),
  ),
)
</script>

<template>
  <h1>Does it hold?</h1>
  <p v-if="query.error.value" class="notice bad">{{ query.error.value.message }}</p>
  <Waiting v-else-if="!found" what="Reading what is pinned" />
  <p v-else-if="!pins.length" class="notice">
    Nothing is pinned yet. Hold any two selections against each other, select a topic and
    <button class="plain link" @click="set({ part: 'two' }, true)">pin what is said of it</button> with <kbd>p</kbd>; or
    pin the order of groups at Groups, or a word at Relate. Here it is made again over
    {{ counted(keys.length, 'other choice') }}.
  </p>
  <template v-else>
    <ol class="pins">
      <li v-for="(pin, at) in pins" :key="pin.id" :class="{ opened: opened?.pin.id === pin.id }">
        <b class="letter">{{ letter(at) }}</b>
        <div>
          <p class="book">
            <button v-if="!pin.of_before" class="plain" title="Its documents" @click="documents(pin)">
              {{ pin.sentence }}
            </button>
            <template v-else>{{ pin.sentence }}</template>
          </p>
          <p class="small">
            <span v-if="pin.of_before" class="soft">Of an earlier result; pin it anew to test it.</span>
            <template v-else-if="pin.says.length"
              ><b>{{ pin.says[0] }}</b> {{ pin.says.slice(1).join(' ') }}</template
            >
            <span v-else class="soft"
              >{{ pin.mark?.says || 'Being tested as it is.' }} Not tested over others yet.</span
            >
            <button class="plain link" @click="takeOff.mutate(pin.id)">take off</button>
          </p>
        </div>
      </li>
    </ol>
    <p v-if="test.error.value" class="notice bad">{{ test.error.value.message }}</p>
    <JobNotice v-if="told" :job="told" />
    <p v-if="present.length && !told" class="row">
      <button
        class="plain chip first"
        :disabled="test.isPending.value || !over.size || (!toDo.tests && !toDo.results)"
        @click="run">
        Test over {{ counted(over.size, 'choice') }}
      </button>
      <span class="soft">{{
        toDo.tests
          ? `${counted(toDo.tests, 'test')}; ${toDo.results ? `${counted(toDo.results, 'result')} to make, each once` : 'all they need is there'}`
          : 'all are tested'
      }}</span>
    </p>
    <div class="two">
      <ChartFrame title="" name="statements" :header="HEADER" :rows="rows" plain>
        <table class="held">
          <thead>
            <tr>
              <th scope="col"></th>
              <th v-for="(pin, at) in pins" :key="pin.id" scope="col" :title="pin.sentence">{{ letter(at) }}</th>
            </tr>
          </thead>
          <tbody>
            <tr>
              <th scope="row" class="pinned">as pinned</th>
              <td v-for="(pin, at) in pins" :key="pin.id">
                <HeldCell
                  v-if="pin.mark"
                  :mark="pin.mark"
                  :name="letter(at)"
                  :open="isOpen(pin, pin.mark)"
                  @pick="pick(pin, pin.mark)" />
              </td>
            </tr>
          </tbody>
          <tbody v-for="kind in found.kinds" :key="kind.title">
            <tr class="kind">
              <th scope="rowgroup" :colspan="pins.length + 1">
                <label
                  ><input
                    type="checkbox"
                    :checked="kind.choices.every((each) => over.has(each.key))"
                    :indeterminate.prop="
                      kind.choices.some((each) => over.has(each.key)) &&
                      !kind.choices.every((each) => over.has(each.key))
                    "
                    @change="
                      toggle(
                        kind.choices.map((each) => each.key),
                        ($event.target as HTMLInputElement).checked,
                      )
                    " />
                  {{ kind.title }}</label
                >
              </th>
            </tr>
            <tr v-for="choice in kind.choices" :key="choice.key">
              <th scope="row">
                <label
                  ><input
                    type="checkbox"
                    :checked="over.has(choice.key)"
                    @change="toggle([choice.key], ($event.target as HTMLInputElement).checked)" />
                  {{ choice.title }} <span class="soft small">{{ choice.reason }}</span></label
                >
              </th>
              <td v-for="(pin, at) in pins" :key="pin.id">
                <HeldCell
                  v-for="mark in marksOf(pin, choice.key)"
                  :key="mark.key"
                  :mark="mark"
                  :name="letter(at)"
                  :open="isOpen(pin, mark)"
                  @pick="pick(pin, mark)" />
              </td>
            </tr>
          </tbody>
        </table>
      </ChartFrame>
      <aside class="beside">
        <section v-if="opened" aria-label="One test" class="opened">
          <h2>{{ opened.name }}, {{ opened.mark.title }}</h2>
          <p v-if="opened.mark.reason" class="soft small">{{ opened.mark.reason }}.</p>
          <p>{{ opened.mark.says || 'Not tested yet.' }}</p>
          <template v-if="opened.mark.working">
            <WorkingLines :lines="opened.mark.working.lines" />
            <p class="soft small">{{ opened.mark.working.note }}</p>
          </template>
          <button
            v-if="opened.mark.key && opened.mark.made"
            class="plain chip"
            @click="asStrand(opened.pin, opened.mark)">
            Open it as a strand
          </button>
        </section>
        <p v-else class="soft small">Select a knot for its figures, and for the strand it stands in.</p>
        <ul class="legend small soft" aria-label="Knots">
          <li v-for="(said, verdict) in found.verdicts" :key="verdict">
            <HeldKnot :verdict="verdict as Verdict" /> {{ said }}
          </li>
          <li><HeldKnot :verdict="null" /> not tested</li>
        </ul>
        <p class="soft small">
          Sure from p under .05, adjusted over all topics, or words, as where it was pinned; a time that was found by
          looking over all times is tested as if it had been named beforehand. The choices are no sample: what holds
          under most of them is steady, not proved.
        </p>
      </aside>
    </div>
  </template>
</template>

<style scoped>
.pins {
  list-style: none;
  margin: 0;
  padding: 0;
}
.pins li {
  display: grid;
  grid-template-columns: 1.4rem minmax(0, 1fr);
  padding: 0.25rem 0 0.25rem 0.5rem;
  border-left: 3px solid transparent;
}
.pins .opened {
  border-left-color: var(--woad);
}
.pins p {
  margin: 0;
}
.pins .book {
  font-size: 1.05rem;
}
.pins .book button {
  min-height: 24px;
}
.pins .book button:hover {
  text-decoration: underline;
}
.letter,
.held th[scope='col'] {
  font-family: var(--heading);
}
.pins .link {
  margin-left: 0.6rem;
  min-height: 24px;
}
.first {
  font-weight: 700;
}
.two {
  display: grid;
  grid-template-columns: minmax(0, max-content) minmax(13rem, 1fr);
  gap: 1.6rem;
  align-items: start;
}
.held th {
  font-weight: 400;
  text-align: left;
  padding: 0 0.8rem 0 0;
}
.held th[scope='col'] {
  font-weight: 700;
  text-align: center;
  padding: 0 0.2rem;
}
.held tr:not(.kind):hover {
  background: var(--woad-wash);
}
.held label,
.held .pinned {
  display: block;
  line-height: 1.25;
  padding: 0.15rem 0;
  min-height: 24px;
}
.held .kind th {
  font-family: var(--heading);
  font-weight: 650;
  padding-top: 0.45rem;
}
.held tr:not(.kind) label {
  padding-left: 2.2rem;
  text-indent: -1.2rem;
  max-width: 26rem;
}
.held .small {
  margin-left: 0.3rem;
}
.held td {
  padding: 0;
}
.beside {
  position: sticky;
  top: 0;
  display: grid;
  gap: 0.8rem;
}
.beside .opened {
  border-left: 3px solid var(--woad);
  padding-left: 0.8rem;
}
.legend {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(11.5rem, 1fr));
  gap: 0.1rem 0.8rem;
}
.legend li {
  display: flex;
  align-items: center;
  gap: 0.4rem;
}
@media (max-width: 60rem) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
