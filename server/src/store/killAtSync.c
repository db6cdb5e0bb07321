/* For a test: ends the process with SIGKILL at its n-th fsync or fdatasync (KILL_AT_SYNC), as a cut of power would find it.
   Without a number it only tells at exit how many there were (COUNT_SYNCS names the file). */
#define _GNU_SOURCE
#include <dlfcn.h>
#include <signal.h>
#include <stdio.h>
#include <stdlib.h>
#include <unistd.h>

static int count = 0;

static void counted(void) {
  const char *at = getenv("KILL_AT_SYNC");
  count++;
  if (at && count == atoi(at)) kill(getpid(), SIGKILL);
}

int fsync(int fd) {
  int result = ((int (*)(int))dlsym(RTLD_NEXT, "fsync"))(fd);
  counted();
  return result;
}

int fdatasync(int fd) {
  int result = ((int (*)(int))dlsym(RTLD_NEXT, "fdatasync"))(fd);
  counted();
  return result;
}

__attribute__((destructor)) static void tell(void) {
  const char *file = getenv("COUNT_SYNCS");
  FILE *out = file ? fopen(file, "w") : NULL;
  if (out) {
    fprintf(out, "%d", count);
    fclose(out);
  }
}
