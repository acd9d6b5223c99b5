<script setup lang="ts">
// The cells themselves, group by group, once they are chosen from the stock.
import { computed } from 'vue'
import { show } from '../../format/show'
import FigureText from '../../ui/FigureText.vue'
import { usePlan } from '../../state/plan'

const { plan, id, set, save } = usePlan()

const groups = computed(() => plan.value?.packs[0]?.groups ?? [])

/** Gives the cells back to the stock with the next save, which is made at once. */
async function release(): Promise<void> {
  set('/packs/0/groups', [])
  await save()
}
</script>

<template>
  <section class="section" data-testid="stock-cells" data-at="/packs/0/groups">
    <h2>Cells of the stock</h2>
    <p v-if="!groups.length" class="lead">
      None chosen yet.
      <router-link :to="{ name: 'group', query: { plan: id } }"
        >Choose and group them in the cell stock</router-link
      >
      once they are tested.
    </p>
    <template v-else>
      <ol class="groups">
        <li v-for="(g, i) in groups" :key="i">
          <b>{{ i + 1 }}</b>
          <span v-for="c in g.cells" :key="c.label" class="cell">
            {{ c.label }}
            <span class="soft">{{ c.capacity_ah == null ? 'not tested' : show(c.capacity_ah, 'ah') }}</span>
          </span>
        </li>
      </ol>
      <div class="figures">
        <FigureText id="groups.weakest_ah" />
        <FigureText id="groups.spread_share" />
        <FigureText id="groups.apart_v" />
        <FigureText id="groups.join_a" />
      </div>
      <p class="after">
        <router-link :to="{ name: 'group', query: { plan: id } }">Group again</router-link>
        or
        <button type="button" class="textlink" @click="release">release them</button>.
      </p>
    </template>
  </section>
</template>

<style scoped>
.groups {
  list-style: none;
  padding: 0;
  margin: 0;
}

.groups li {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  align-items: baseline;
  padding: 5px 0;
  border-bottom: 1px solid var(--line);
}

.groups b {
  min-width: 20px;
}

.cell {
  white-space: nowrap;
}

.figures {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(260px, 1fr));
  gap: 0 28px;
  margin-top: 10px;
}
</style>
