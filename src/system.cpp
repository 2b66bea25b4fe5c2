// What R does not tell of the system.
#ifdef _WIN32
#define _FILE_OFFSET_BITS 64 // files of more than 2 GB
#endif
#include <Rcpp.h>
#include <algorithm>
#include <cctype>
#include <cstring>
#include <string>
#include <cerrno>
#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>
#include <csignal>
#include <random>
#ifdef __linux__
#include <sys/prctl.h>
#endif
#ifdef _WIN32
#include <io.h>
#include <windows.h>
#endif

namespace {

// The same on Windows, which knows files as text, and no folder that is synced: what is
// renamed there is written by the system.
#ifdef _WIN32
const int plain_bytes = O_BINARY | O_NOINHERIT;
int sync_file(int file) { return _commit(file); }
#else
const int plain_bytes = O_CLOEXEC;
int sync_file(int file) { return fsync(file); }
#endif

}  // namespace

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
  // By itself R clears the folder of temporary files when it dies, which is the parent's.
  std::signal(SIGSEGV, SIG_DFL);
  std::signal(SIGILL, SIG_DFL);
#ifdef SIGBUS
  std::signal(SIGBUS, SIG_DFL);
#endif
#ifdef __linux__
  prctl(PR_SET_PDEATHSIG, SIGKILL);
#endif
}

// Whether a process of this number is there, whosever it is. R's own question ends it on
// Windows.
// [[Rcpp::export]]
bool is_running(int process) {
#ifdef _WIN32
  const HANDLE handle = OpenProcess(PROCESS_QUERY_LIMITED_INFORMATION, FALSE, static_cast<DWORD>(process));
  if (!handle) return GetLastError() == ERROR_ACCESS_DENIED;
  DWORD code = 0;
  const bool running = GetExitCodeProcess(handle, &code) && code == STILL_ACTIVE;
  CloseHandle(handle);
  return running;
#else
  return kill(process, 0) == 0 || errno == EPERM;
#endif
}

// Bytes that nobody can guess, from the system.
// [[Rcpp::export]]
Rcpp::RawVector random_bytes(int n) {
  std::random_device source;
  Rcpp::RawVector bytes(n);
  for (int i = 0; i < n; ++i) bytes[i] = static_cast<unsigned char>(source() & 0xff);
  return bytes;
}

// Where the system bounds the size of a file, the write that goes past it fails, as it
// does on a full disk, and what was begun is cleared; by itself the process would die.
// [[Rcpp::export]]
void outlive_file_limit() {
#ifdef SIGXFSZ
  std::signal(SIGXFSZ, SIG_IGN);
#endif
}

namespace {

// One pass over the bytes of an XML document, which need not be well formed: how deep it
// is, how many elements and attributes it has, and, of a sheet, how far its cells reach.
class XmlLook {
public:
  double elements = 0, depth = 0, deepest = 0, row = 0, column = 0;
  bool entities = false, bad_place = false;

  void take(const char* at, const char* end) {
    while (at < end && (at = find(at, end, '<')) != end) at = tag(at + 1, end);
  }

private:
  static const char* find(const char* at, const char* end, char letter) {
    const void* found = std::memchr(at, letter, end - at);
    return found ? static_cast<const char*>(found) : end;
  }

  static bool starts(const char* at, const char* end, const char* word) {
    const std::size_t n = std::strlen(word);
    return static_cast<std::size_t>(end - at) >= n && std::memcmp(at, word, n) == 0;
  }

  static const char* behind(const char* at, const char* end, const char* word) {
    const std::size_t n = std::strlen(word);
    const char* found = std::search(at, end, word, word + n);
    return found == end ? end : found + n;
  }

  const char* tag(const char* at, const char* end) {
    if (starts(at, end, "!--")) return behind(at, end, "-->");
    if (starts(at, end, "![CDATA[")) return behind(at, end, "]]>");
    if (starts(at, end, "!DOCTYPE") || starts(at, end, "!ENTITY")) entities = true;
    if (at < end && (*at == '!' || *at == '?')) return find(at, end, '>');
    if (at < end && *at == '/') {
      if (depth > 0) --depth;
      return find(at, end, '>');
    }
    ++elements;
    deepest = std::max(deepest, ++depth);
    const char* name = at;
    while (at < end && !std::isspace(static_cast<unsigned char>(*at)) && *at != '>' && *at != '/') ++at;
    const bool cell = at - name == 1 && *name == 'c';
    const bool line = at - name == 3 && std::memcmp(name, "row", 3) == 0;
    char before = ' ';
    while (at < end && *at != '>') {
      if (*at == '"' || *at == '\'') {
        const char* to = find(at + 1, end, *at);
        if (before == 'r' && (cell || line)) place(at + 1, to, cell);
        ++elements;
        at = to == end ? end : to + 1;
        before = ' ';
      } else {
        // the last letter of the attribute's name, if that is all of it
        if (*at != '=') before = std::isspace(static_cast<unsigned char>(before)) ? *at : (std::isspace(static_cast<unsigned char>(*at)) ? ' ' : '-');
        ++at;
      }
    }
    if (at > name && at < end && at[-1] == '/') --depth;
    return at;
  }

  void place(const char* at, const char* end, bool cell) {
    double letters = 0, number = 0;
    int n_letters = 0, n_digits = 0;
    for (; at < end && *at >= 'A' && *at <= 'Z' && n_letters < 4; ++at, ++n_letters)
      letters = letters * 26 + (*at - 'A' + 1);
    for (; at < end && *at >= '0' && *at <= '9' && n_digits < 8; ++at, ++n_digits)
      number = number * 10 + (*at - '0');
    const bool whole = at == end && number >= 1 && number <= 1048576 && letters <= 16384 &&
      (cell ? letters >= 1 : n_letters == 0);
    if (!whole) bad_place = true;
    else {
      row = std::max(row, number);
      column = std::max(column, letters);
    }
  }
};

}  // namespace

// What XML holds, looked at before a parser builds it: elements (with attributes), depth,
// whether it declares entities; of a sheet the last row and column, and whether a cell or
// row stands at no place.
// [[Rcpp::export]]
Rcpp::List look_at_xml(Rcpp::RawVector bytes) {
  XmlLook look;
  const char* start = reinterpret_cast<const char*>(RAW(bytes));
  look.take(start, start + bytes.size());
  return Rcpp::List::create(
    Rcpp::_["elements"] = look.elements, Rcpp::_["depth"] = look.deepest, Rcpp::_["entities"] = look.entities,
    Rcpp::_["row"] = look.row, Rcpp::_["column"] = look.column, Rcpp::_["bad_place"] = look.bad_place);
}

// How deep the brackets of JSON or YAML go, and how many values there can be at most.
// [[Rcpp::export]]
Rcpp::List look_at_json(Rcpp::RawVector bytes) {
  double depth = 0, deepest = 0, values = 1;
  bool quoted = false;
  for (R_xlen_t i = 0; i < bytes.size(); ++i) {
    const char c = static_cast<char>(bytes[i]);
    if (quoted) {
      if (c == '\\') ++i;
      else if (c == '"') quoted = false;
    } else if (c == '"') {
      quoted = true;
    } else if (c == '[' || c == '{') {
      deepest = std::max(deepest, ++depth);
      ++values;
    } else if (c == ']' || c == '}') {
      if (depth > 0) --depth;
    } else if (c == ',') {
      ++values;
    }
  }
  return Rcpp::List::create(Rcpp::_["depth"] = deepest, Rcpp::_["values"] = values);
}

// Bytes behind the end of a file, on the disk when this comes back; the new size. A file
// that is not as long as it should be, or a write that stops, changes nothing: what came
// of it is cut off again.
// [[Rcpp::export]]
double append_synced(std::string path, Rcpp::RawVector bytes, double size) {
  const int file = open(path.c_str(), O_WRONLY | O_CREAT | O_APPEND | plain_bytes, 0666);
  if (file < 0) Rcpp::stop(std::strerror(errno));
  struct stat about;
  if (fstat(file, &about) != 0 || about.st_size != static_cast<off_t>(size)) {
    close(file);
    return -1;
  }
  const char* at = reinterpret_cast<const char*>(RAW(bytes));
  std::size_t left = bytes.size();
  int problem = 0;
  while (left > 0) {
    const ssize_t written = write(file, at, left);
    if (written < 0 && errno == EINTR) continue;
    if (written <= 0) {
      problem = written < 0 ? errno : ENOSPC;
      break;
    }
    at += written;
    left -= written;
  }
  if (!problem && sync_file(file) != 0) problem = errno;
  const int cut = problem ? ftruncate(file, static_cast<off_t>(size)) : 0;
  static_cast<void>(cut);
  close(file);
  if (problem) Rcpp::stop(std::strerror(problem));
  return size + bytes.size();
}

// A file gets this length, on the disk when this comes back.
// [[Rcpp::export]]
void cut_file(std::string path, double size) {
  const int file = open(path.c_str(), O_WRONLY | plain_bytes);
  if (file < 0) Rcpp::stop(std::strerror(errno));
  const bool done = ftruncate(file, static_cast<off_t>(size)) == 0 && sync_file(file) == 0;
  const int problem = errno;
  close(file);
  if (!done) Rcpp::stop(std::strerror(problem));
}

// What was made, renamed or taken away in a folder stays so when the current goes.
// [[Rcpp::export]]
void sync_folder(std::string path) {
#ifndef _WIN32
  const int folder = open(path.c_str(), O_RDONLY | plain_bytes);
  if (folder < 0) return;
  fsync(folder);
  close(folder);
#endif
}
