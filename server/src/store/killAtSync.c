/* For a test: ends the process with SIGKILL at its n-th fsync or fdatasync (KILL_AT_SYNC), as a cut of power would find it.
   Without a number it keeps at each of them what a kill there would leave: a copy of the folder STORE, in COPIES, by number. */
#define _GNU_SOURCE
#include <dlfcn.h>
#include <signal.h>
#include <stdio.h>
#include <stdlib.h>
#include <unistd.h>

static int count = 0;

static void counted(void) {
  const char *at = getenv("KILL_AT_SYNC");
  const char *copies = getenv("COPIES");
  char command[4096];
  count++;
  if (at && count == atoi(at)) kill(getpid(), SIGKILL);
  if (!copies) return;
  snprintf(command, sizeof command, "env -u LD_PRELOAD cp -r '%s' '%s/%d'", getenv("STORE"), copies, count);
  if (system(command) != 0) abort();
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
