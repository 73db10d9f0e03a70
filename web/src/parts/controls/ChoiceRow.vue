<script setup lang="ts">
/** One of a few, all of them in sight. */
defineProps<{ label: string; value: string; choices: { id: string; label: string }[]; stacked?: boolean }>()
const emit = defineEmits<{ choose: [id: string] }>()
</script>

<template>
  <div class="row" :class="{ stacked }" role="group" :aria-label="label">
    <span class="label">{{ label }}</span>
    <span class="choices">
      <button
        v-for="choice in choices"
        :key="choice.id"
        type="button"
        :aria-pressed="choice.id === value"
        :class="{ on: choice.id === value }"
        @click="emit('choose', choice.id)"
      >
        {{ choice.label }}
      </button>
    </span>
  </div>
</template>

<style scoped>
.row {
  display: flex;
  align-items: center;
  gap: 8px;
  margin: 5px 0;
}
.row > .label {
  flex: 0 0 40px;
}
.choices {
  display: flex;
  flex: 1;
  min-width: 0;
}
.stacked,
.stacked .choices {
  flex-wrap: wrap;
}
.stacked > .label {
  flex: 1 1 100%;
}
.choices button {
  flex: 1 1 auto;
  border: 1px solid var(--edge);
  margin-right: -1px;
  background: var(--field);
  color: var(--text);
  padding: 3px 3px;
  font-size: 12.5px;
  min-width: 0;
  cursor: pointer;
  white-space: nowrap;
}
.choices button.on {
  background: var(--surface-strong);
  font-weight: 600;
  box-shadow: inset 0 -2px 0 var(--text);
}
</style>
