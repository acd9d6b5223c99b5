<script setup lang="ts">
// What the keys do.
const open = defineModel<boolean>({ required: true })

const keys = [
  ['Enter', 'on to the next field'],
  ['Esc', 'in a field: back to what it said before; in a dialog: close it'],
  ['↑ ↓', 'along a list of stages, parts or findings'],
  ['Ctrl S', 'save now'],
  ['Ctrl Z', 'undo'],
  ['Ctrl Shift Z', 'redo'],
  ['Space', 'at the bench: this step is done'],
  ['?', 'these keys'],
] as const
</script>

<template>
  <v-dialog v-model="open" max-width="440" aria-labelledby="keys-title">
    <v-card class="panel">
      <h2 id="keys-title">Keys</h2>
      <dl>
        <template v-for="[key, does] in keys" :key="key">
          <dt>
            <kbd>{{ key }}</kbd>
          </dt>
          <dd>{{ does }}</dd>
        </template>
      </dl>
      <div><v-btn @click="open = false">Close</v-btn></div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 8px 16px;
  margin: 14px 0;
}

dd {
  margin: 0;
}

kbd {
  padding: 1px 6px;
  font: inherit;
  font-size: 13px;
  font-weight: 700;
  white-space: nowrap;
  border: 1px solid var(--line-strong);
  border-radius: 3px;
}
</style>
