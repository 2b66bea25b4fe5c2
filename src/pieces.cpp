// A text file in pieces of whole records, for tables that are too large to be read at
// once, and which students were met in an earlier piece.
#include <Rcpp.h>
#include <algorithm>
#include <cstdint>
#include <cstdio>
#include <cstring>
#include <memory>
#include <string>
#include <vector>

namespace {

using Handle = std::unique_ptr<std::FILE, int (*)(std::FILE*)>;

Handle open_at(const std::string& path, double offset) {
  Handle file(std::fopen(path.c_str(), "rb"), std::fclose);
  if (!file) Rcpp::stop("cannot open the file");
#ifdef _WIN32
  _fseeki64(file.get(), static_cast<long long>(offset), SEEK_SET);
#else
  fseeko(file.get(), static_cast<off_t>(offset), SEEK_SET);
#endif
  return file;
}

// Where records end: at a line end that is within no quotes.
class Ends {
 public:
  explicit Ends(bool quoted) : quoted_(quoted) {}
  // Of the bytes from `begin` on the next end, or nullptr; goes on where it stopped.
  const char* next(const char* begin, const char* end) {
    while (begin < end) {
      const void* line = std::memchr(begin, '\n', end - begin);
      const char* upto = line ? static_cast<const char*>(line) : end;
      if (quoted_) count_quotes(begin, upto);
      if (!line) return nullptr;
      if (!inside_) return upto + 1;
      begin = upto + 1;
    }
    return nullptr;
  }

 private:
  void count_quotes(const char* begin, const char* end) {
    while (begin < end && (begin = static_cast<const char*>(std::memchr(begin, '"', end - begin)))) {
      inside_ = !inside_;
      ++begin;
    }
  }
  bool quoted_, inside_ = false;
};

const size_t kRest = 1 << 12; // bytes of the next record, at most, that are read with a piece

bool is_blank_line(const char* begin, const char* end) {
  while (begin < end && (*begin == '\n' || *begin == '\r')) ++begin;
  return begin == end;
}

}  // namespace

// From `offset` on as many whole records as go into `bytes`, but at least one: their
// text after `header`, how many there are (lines without anything are none), where the
// next one begins, and as much of that one as tells whose it is in most files. `gap`:
// whether a line without anything stands before a record; `open`: whether one is last.
// [[Rcpp::export]]
Rcpp::List next_piece(std::string path, double offset, double bytes, std::string header,
                      bool quoted) {
  Handle file = open_at(path, offset);
  std::string text = header;
  size_t upto = text.size(), looked = upto;
  double records = 0;
  bool gap = false, open = false;
  const auto take = [&](bool blank) {
    if (!blank) ++records, gap = gap || open;
    open = blank;
  };
  Ends ends(quoted);
  const size_t wanted = std::max<size_t>(1, static_cast<size_t>(bytes));
  while (true) {
    const size_t before = text.size();
    text.resize(before + wanted);
    const size_t got = std::fread(&text[before], 1, wanted, file.get());
    text.resize(before + got);
    const char* const start = text.data();
    const char* const end = start + text.size();
    while (const char* at = ends.next(start + looked, end)) {
      take(is_blank_line(start + upto, at));
      upto = looked = at - start;
    }
    looked = text.size();
    if (got < wanted) {
      if (upto < text.size()) take(is_blank_line(start + upto, end));
      upto = text.size();
      break;
    }
    if (records > 0) {
      text.resize(looked + kRest);
      text.resize(looked + std::fread(&text[looked], 1, kRest, file.get()));
      break;
    }
  }
  const auto part = [&text](size_t from, size_t to) {
    Rcpp::Shield<SEXP> body(Rf_mkCharLenCE(text.data() + from, static_cast<int>(to - from), CE_UTF8));
    Rcpp::CharacterVector out(1);
    out[0] = static_cast<SEXP>(body);
    return out;
  };
  return Rcpp::List::create(
    Rcpp::_["text"] = part(0, upto), Rcpp::_["rest"] = part(upto, text.size()),
    Rcpp::_["records"] = records, Rcpp::_["gap"] = gap, Rcpp::_["open"] = open,
    Rcpp::_["after"] = offset + static_cast<double>(upto - header.size()));
}

// Where the record after `records` of them begins.
// [[Rcpp::export]]
double skip_records(std::string path, double offset, double records, bool quoted) {
  Handle file = open_at(path, offset);
  std::vector<char> block(1 << 18);
  Ends ends(quoted);
  double position = offset;
  bool blank = true; // so far of this record
  while (const size_t n = std::fread(block.data(), 1, block.size(), file.get())) {
    const char *begin = block.data(), *const end = begin + n;
    while (const char* at = ends.next(begin, end)) {
      if (records <= 0) return position;
      blank = blank && is_blank_line(begin, at);
      if (!blank) --records;
      blank = true;
      position += at - begin;
      begin = at;
    }
    blank = blank && is_blank_line(begin, end);
    position += end - begin;
    if (records <= 0) return position - (end - begin);
  }
  return position;
}

// Of each of some places in the file, in order, where the first record begins that does
// not begin before it. From `offset` on all of it is looked at: a line may be within quotes.
// [[Rcpp::export]]
Rcpp::NumericVector records_from(std::string path, double offset, Rcpp::NumericVector places,
                                 bool quoted) {
  Handle file = open_at(path, offset);
  std::vector<char> block(1 << 20);
  Ends ends(quoted);
  double position = offset;
  R_xlen_t k = 0;
  Rcpp::NumericVector found(places.size());
  while (k < places.size()) {
    const size_t n = std::fread(block.data(), 1, block.size(), file.get());
    if (n == 0) break;
    const char *begin = block.data(), *const end = begin + n;
    // Without quotes a line is a record, and nothing before the place need be seen.
    if (!quoted && position + n < places[k]) begin = end;
    while (const char* at = ends.next(begin, end)) {
      for (const double here = position + (at - block.data()); k < places.size() && here >= places[k]; ++k)
        found[k] = here;
      begin = at;
    }
    position += n;
  }
  for (; k < places.size(); ++k) found[k] = position;
  return found;
}

// The students of all pieces so far, as 64 bits of each id: two ids that share them are
// taken for one, who is then looked at as whoever is in two pieces.
class IdSet {
 public:
  bool has(uint64_t id) const { return slot_[place(id)] == id; }
  std::vector<uint64_t> ids() const {
    std::vector<uint64_t> all;
    for (uint64_t id : slot_)
      if (id) all.push_back(id);
    return all;
  }
  void add(uint64_t id) {
    if (4 * (size_ + 1) > 3 * slot_.size()) grow();
    uint64_t& slot = slot_[place(id)];
    size_ += slot != id;
    slot = id;
  }

 private:
  size_t place(uint64_t id) const {
    size_t k = id & (slot_.size() - 1);
    while (slot_[k] && slot_[k] != id) k = (k + 1) & (slot_.size() - 1);
    return k;
  }
  void grow() {
    std::vector<uint64_t> old(2 * slot_.size(), 0);
    old.swap(slot_);
    for (uint64_t id : old)
      if (id) slot_[place(id)] = id;
  }
  std::vector<uint64_t> slot_ = std::vector<uint64_t>(1 << 10, 0);
  size_t size_ = 0;
};

namespace {

bool is_space(unsigned char byte) { return byte == ' ' || (byte >= 9 && byte <= 13); }

// Without blanks around it; 0 where nothing is left.
uint64_t id_of(const char* from, const char* to) {
  const auto hard = [](const char* at) { return at[0] == '\xC2' && at[1] == '\xA0'; };
  while (from < to && (is_space(*from) || (from + 1 < to && hard(from)))) from += is_space(*from) ? 1 : 2;
  while (from < to && (is_space(to[-1]) || (from + 1 < to && hard(to - 2)))) to -= is_space(to[-1]) ? 1 : 2;
  if (from == to) return 0;
  uint64_t hash = 0x9E3779B97F4A7C15ULL;
  for (; from < to; ++from) {
    hash = (hash ^ static_cast<unsigned char>(*from)) * 0xFF51AFD7ED558CCDULL;
    hash ^= hash >> 32;
  }
  return hash ? hash : 1;
}

}  // namespace

// [[Rcpp::export]]
SEXP new_id_set() { return Rcpp::XPtr<IdSet>(new IdSet, true); }

// The rows whose ids were met in an earlier call; all of them are from now on.
// [[Rcpp::export]]
Rcpp::IntegerVector meet_ids(SEXP set, Rcpp::CharacterVector ids) {
  Rcpp::XPtr<IdSet> met(set);
  std::vector<uint64_t> all(ids.size());
  std::vector<int> again;
  for (R_xlen_t i = 0; i < ids.size(); ++i) {
    const SEXP id = STRING_ELT(ids, i);
    all[i] = id_of(CHAR(id), CHAR(id) + LENGTH(id));
    if (all[i] && met->has(all[i])) again.push_back(i + 1);
  }
  for (uint64_t id : all)
    if (id) met->add(id);
  return Rcpp::wrap(again);
}

// All that were met, eight bytes each, and those of another process: whether any was met
// here as well.
// [[Rcpp::export]]
Rcpp::RawVector ids_met(SEXP set) {
  const std::vector<uint64_t> all = Rcpp::XPtr<IdSet>(set)->ids();
  Rcpp::RawVector bytes(all.size() * sizeof(uint64_t));
  if (!all.empty()) std::memcpy(bytes.begin(), all.data(), bytes.size());
  return bytes;
}

// [[Rcpp::export]]
bool meet_others(SEXP set, Rcpp::RawVector bytes) {
  Rcpp::XPtr<IdSet> met(set);
  std::vector<uint64_t> all(bytes.size() / sizeof(uint64_t));
  if (!all.empty()) std::memcpy(all.data(), bytes.begin(), bytes.size());
  bool again = false;
  for (uint64_t id : all) {
    again = again || met->has(id);
    met->add(id);
  }
  return again;
}
