<script setup lang="ts">
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { client, sentence, unwrap, type Schemas } from '@/api/client'

type Picture = Schemas['Picture']

/** Own pictures: each comes with what it shows, for who does not see it. */
const props = defineProps<{ pictures: Picture[] }>()
const emit = defineEmits<{ change: [pictures: Picture[]] }>()
const { t } = useI18n()
const MOST = 6
const LEAST = 3

const alt = ref('')
const problem = ref('')
const busy = ref(false)

async function add(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (!file) return
  busy.value = true
  problem.value = ''
  try {
    const kept = await unwrap(
      client.POST('/api/pictures', {
        headers: { 'Content-Type': 'application/octet-stream' },
        body: file as never,
        bodySerializer: (body: unknown) => body as never,
      } as never),
    )
    const { id } = kept as Schemas['PictureOut']
    emit('change', [...props.pictures, { id, alt: alt.value.trim(), caption: '' }])
    alt.value = ''
  } catch (error) {
    problem.value = sentence(error)
  } finally {
    busy.value = false
  }
}

function change(k: number, part: Partial<Picture>) {
  emit(
    'change',
    props.pictures.map((old, j) => (j === k ? { ...old, ...part } : old)),
  )
}
/** Without words for who does not see it, a picture does not stand. */
function changeAlt(k: number, event: Event) {
  const input = event.target as HTMLInputElement
  const words = input.value.trim()
  if (words.length >= LEAST) change(k, { alt: words })
  else input.value = props.pictures[k]?.alt ?? ''
}
</script>

<template>
  <fieldset class="pictures">
    <legend class="label">{{ t('stations.explain.pictures') }}</legend>
    <div v-for="(picture, k) in pictures" :key="`${picture.id}-${k}`" class="picture">
      <img :src="`/api/pictures/${picture.id}`" :alt="picture.alt" />
      <div class="words">
        <label>
          <span class="small soft">{{ t('stations.explain.alt') }}</span>
          <input :value="picture.alt" maxlength="300" @change="changeAlt(k, $event)" />
        </label>
        <label>
          <span class="small soft">{{ t('stations.explain.caption') }}</span>
          <input
            :value="picture.caption"
            maxlength="300"
            @change="change(k, { caption: ($event.target as HTMLInputElement).value.trim() })"
          />
        </label>
        <button
          type="button"
          class="tool"
          @click="
            emit(
              'change',
              pictures.filter((_, j) => j !== k),
            )
          "
        >
          {{ t('stations.explain.takeOut') }}
        </button>
      </div>
    </div>
    <div v-if="pictures.length < MOST" class="add">
      <label>
        <span class="small soft">{{ t('stations.explain.alt') }}</span>
        <input v-model="alt" maxlength="300" :placeholder="t('stations.explain.altHint')" />
      </label>
      <label class="tool file" :class="{ off: alt.trim().length < LEAST || busy }">
        {{ t(busy ? 'stations.explain.adding' : 'stations.explain.add') }}
        <input
          type="file"
          accept="image/png,image/jpeg,image/webp"
          :disabled="alt.trim().length < LEAST || busy"
          @change="add"
        />
      </label>
      <p v-if="alt.trim().length < LEAST" class="small soft">{{ t('stations.explain.altFirst') }}</p>
      <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
    </div>
  </fieldset>
</template>

<style scoped>
.pictures {
  border: 0;
  margin: 0;
  padding: 0;
}
.picture {
  display: grid;
  grid-template-columns: 96px minmax(0, 1fr);
  gap: var(--space-2);
  padding: var(--space-2) 0;
  border-top: 1px solid var(--rule);
}
.picture img {
  width: 96px;
  max-height: 96px;
  object-fit: contain;
  background: var(--surface-sunk);
}
.words,
.add {
  display: grid;
  gap: 4px;
  justify-items: start;
}
.words label,
.add label:first-child {
  width: 100%;
}
input:not([type='file']) {
  width: 100%;
}
.file {
  cursor: pointer;
}
.file:focus-within {
  outline: 2px solid var(--accent);
}
.file.off {
  color: var(--text-faint);
  cursor: default;
}
.file input {
  position: absolute;
  opacity: 0;
  width: 1px;
  height: 1px;
}
.problem {
  margin: 0;
  border-left: 3px solid var(--accent);
  padding-left: var(--space-2);
}
</style>
