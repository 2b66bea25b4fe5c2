// What R does not tell of the system.
#include <Rcpp.h>
#include <sys/stat.h>
#ifdef __linux__
#include <csignal>
#include <sys/prctl.h>
#endif

// What a path leads to: file, folder, other (a pipe, a device) or none.
// [[Rcpp::export]]
std::string path_kind(std::string path) {
  struct stat about;
  if (stat(path.c_str(), &about) != 0) return "none";
  const auto kind = about.st_mode & S_IFMT;
  if (kind == S_IFREG) return "file";
  return kind == S_IFDIR ? "folder" : "other";
}

// A helper process ends when the one that it works for does, also where that was
// killed. Elsewhere than on Linux it ends its piece of work first.
// [[Rcpp::export]]
void end_with_parent() {
#ifdef __linux__
  prctl(PR_SET_PDEATHSIG, SIGKILL);
#endif
}
