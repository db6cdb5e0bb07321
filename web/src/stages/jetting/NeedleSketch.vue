<script setup lang="ts">
/** Where the places of a needle are counted from: what stands in its jet at idle, with the clip in the top groove. */
</script>

<template>
  <figure>
    <svg
      viewBox="0 0 220 116"
      width="220"
      height="116"
      role="img"
      aria-label="A needle in its jet. Zero is where the needle enters the jet at idle, with the clip in the top groove; places count down from there to the tip."
    >
      <path class="needle" d="M34 4h12v52l-3 50h-6l-3-50z" />
      <path class="clip" d="M27 14h26" />
      <path class="groove" d="M33 22h14M33 30h14" />
      <path class="jet" d="M4 50h26v52H4zM50 50h26v52H50z" />
      <path class="mark" d="M54 50h44M46 106h52" />
      <text x="102" y="18">clip, top groove</text>
      <text x="102" y="54">0 mm: enters the jet at idle</text>
      <text x="102" y="110">tip: the last place</text>
    </svg>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
}
.needle {
  fill: var(--panel);
  stroke: var(--ink);
}
.clip {
  stroke: var(--ink);
  stroke-width: 3;
}
.groove {
  stroke: var(--soft);
}
.jet {
  fill: var(--yuzu-soft);
  stroke: var(--line-strong);
}
.mark {
  stroke: var(--soft);
  stroke-dasharray: 3 3;
}
text {
  fill: var(--soft);
  font-size: 11.5px;
}
</style>
