<script setup lang="ts">
/** Rows of which each gets one of a few answers. */
defineProps<{
  rows: { id: string; label: string; detail?: string }[]
  choices: { id: string; label: string }[]
  given: Record<string, string | null | undefined>
  name: string
  disabled?: boolean
}>()
const emit = defineEmits<{ choose: [row: string, choice: string] }>()
</script>

<template>
  <ol class="rows">
    <li v-for="row in rows" :key="row.id" :data-testid="`row-${row.id}`">
      <fieldset :disabled="disabled">
        <legend>
          {{ row.label }} <b v-if="row.detail">{{ row.detail }}</b>
        </legend>
        <span class="choices">
          <label v-for="choice in choices" :key="choice.id" :class="{ on: given[row.id] === choice.id }">
            <input
              type="radio"
              :name="`${name}-${row.id}`"
              :value="choice.id"
              :checked="given[row.id] === choice.id"
              @change="emit('choose', row.id, choice.id)"
            />
            {{ choice.label }}
          </label>
        </span>
      </fieldset>
    </li>
  </ol>
</template>

<style scoped>
.rows {
  margin: 0;
  padding: 0;
  list-style: none;
  border-top: 1px solid var(--text);
}
li {
  border-bottom: 1px solid var(--rule);
}
fieldset {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px var(--space-4);
  border: 0;
  margin: 0;
  padding: 8px 0;
  min-width: 0;
}
legend {
  float: left;
  flex: 1 1 320px;
  padding: 0;
}
.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
label {
  display: flex;
  gap: 6px;
  align-items: baseline;
  padding: 3px 9px;
  border: 1px solid var(--edge);
  cursor: pointer;
}
label.on {
  background: var(--surface-strong);
  font-weight: 600;
}
input {
  accent-color: var(--accent);
}
</style>
