// Loaded into every process of a Yarvo that is tested: on this signal it hangs as a fault would make it hang.
process.on('SIGUSR2', () => {
  for (;;);
});
