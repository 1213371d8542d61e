<template><div class="station"></div></template>
