<template>
  <div class="room">
    <h1 class="answer">Nothing lives at this address.</h1>
    <p><RouterLink to="/">Find a phone or a part</RouterLink></p>
  </div>
</template>

<style scoped>
.answer {
  font-size: 23px;
  padding: 18px 0;
}
</style>
