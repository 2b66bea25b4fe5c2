// One look over the bytes of a text file before it is read as a table: is it
// text at all, in which encoding, and how do its lines divide into cells.
#include <Rcpp.h>
#include <algorithm>
#include <cstdint>
#include <cstdio>
#include <memory>
#include <vector>

namespace {

const int kLooked = 60; // records whose separators are counted one by one
const unsigned char kSeparators[] = {',', ';', '\t', '|'};

// Follows UTF-8 byte by byte; false where a byte cannot stand.
class Utf8 {
 public:
  bool accept(unsigned char byte) {
    if (left_ == 0) return begin(byte);
    if (byte < low_ || byte > high_) return false;
    low_ = 0x80;
    high_ = 0xBF;
    --left_;
    return true;
  }
  bool whole() const { return left_ == 0; }

 private:
  bool begin(unsigned char byte) {
    if (byte < 0x80) return true;
    low_ = 0x80;
    high_ = 0xBF;
    if (byte >= 0xC2 && byte <= 0xDF) left_ = 1;
    else if (byte >= 0xE0 && byte <= 0xEF) left_ = 2;
    else if (byte >= 0xF0 && byte <= 0xF4) left_ = 3;
    else return false;
    if (byte == 0xE0) low_ = 0xA0; // no longer form than needed
    if (byte == 0xED) high_ = 0x9F; // no surrogates
    if (byte == 0xF0) low_ = 0x90;
    if (byte == 0xF4) high_ = 0x8F; // no more than there is
    return true;
  }
  int left_ = 0;
  unsigned char low_ = 0x80, high_ = 0xBF;
};

// Counts separators record by record; a quoted cell may hold line ends.
class Records {
 public:
  void take(unsigned char byte) {
    if (byte == '\n' || (last_ == '\r' && byte != '\n')) ++line_;
    if (inside_) {
      if (byte == '"') inside_ = false, closed_ = true;
    } else if (byte == '"' && (at_start_ || closed_)) {
      inside_ = true;
      if (at_start_) opened_ = line_;
      quoted_ = true;
    } else {
      plain(byte);
    }
    if (byte != '"') closed_ = false;
    last_ = byte;
  }
  void finish() { if (!fresh_) end_record(); }
  bool quoted() const { return quoted_; }
  double unclosed() const { return inside_ ? opened_ : NA_REAL; }
  Rcpp::IntegerMatrix looked() const {
    int n = looked_.size() / 4;
    Rcpp::IntegerMatrix out(n, 4);
    for (int i = 0; i < n; ++i)
      for (int k = 0; k < 4; ++k) out(i, k) = looked_[4 * i + k];
    return out;
  }
  Rcpp::IntegerVector most() const { return Rcpp::IntegerVector(most_, most_ + 4); }

 private:
  void plain(unsigned char byte) {
    at_start_ = false;
    if (byte == '\n' || byte == '\r') {
      if (!(byte == '\n' && last_ == '\r')) end_record();
      at_start_ = true;
      return;
    }
    fresh_ = false;
    for (int k = 0; k < 4; ++k)
      if (byte == kSeparators[k]) ++count_[k], at_start_ = true;
  }
  void end_record() {
    for (int k = 0; k < 4; ++k) {
      most_[k] = std::max(most_[k], count_[k]);
      if (looked_.size() < 4 * kLooked && !fresh_) looked_.push_back(count_[k]);
    }
    std::fill(count_, count_ + 4, 0);
    fresh_ = true;
  }
  std::vector<int> looked_;
  int count_[4] = {0, 0, 0, 0}, most_[4] = {0, 0, 0, 0};
  bool inside_ = false, closed_ = false, at_start_ = true, fresh_ = true, quoted_ = false;
  double line_ = 1, opened_ = 1;
  unsigned char last_ = 0;
};

}  // namespace

// [[Rcpp::export]]
Rcpp::List scan_text(std::string path) {
  std::unique_ptr<std::FILE, int (*)(std::FILE*)> file(std::fopen(path.c_str(), "rb"), std::fclose);
  if (!file) Rcpp::stop("cannot open the file");
  std::vector<unsigned char> block(1 << 20);
  Records records;
  Utf8 utf8;
  double position = 0, first_zero = NA_REAL, first_bad = NA_REAL, zeros = 0;
  bool plain = true;
  while (size_t n = std::fread(block.data(), 1, block.size(), file.get())) {
    for (size_t i = 0; i < n; ++i) {
      unsigned char byte = block[i];
      if (byte == 0 && ++zeros == 1) first_zero = position + i + 1;
      if (plain && !utf8.accept(byte)) {
        plain = false;
        first_bad = position + i + 1;
      }
      records.take(byte);
    }
    position += n;
  }
  if (plain && !utf8.whole()) first_bad = position;
  records.finish();
  return Rcpp::List::create(
    Rcpp::_["bytes"] = position, Rcpp::_["zeros"] = zeros, Rcpp::_["first_zero"] = first_zero,
    Rcpp::_["first_bad"] = first_bad, Rcpp::_["quoted"] = records.quoted(),
    Rcpp::_["unclosed"] = records.unclosed(), Rcpp::_["separators"] = records.looked(),
    Rcpp::_["most"] = records.most());
}

// The distinct values of a character vector in the order of their first
// appearance, and where each element stands among them (from 1). Equal strings
// share one pointer in R once they are in one encoding, so a pointer is enough
// to tell them apart; a string that comes in two encodings stands twice, and
// the caller's match() by value brings the two together.
// [[Rcpp::export]]
Rcpp::List distinct_strings(Rcpp::CharacterVector x) {
  const R_xlen_t n = x.size();
  const SEXP* value = STRING_PTR_RO(x);
  Rcpp::IntegerVector at(Rcpp::no_init(n));
  std::vector<SEXP> found;
  std::vector<int> slot(64, -1);
  size_t mask = slot.size() - 1;
  auto place = [&](SEXP s) {
    uint64_t h = (reinterpret_cast<uintptr_t>(s) >> 4) * 0x9E3779B97F4A7C15ULL;
    size_t k = (h >> 32) & mask;
    while (slot[k] >= 0 && found[slot[k]] != s) k = (k + 1) & mask;
    return k;
  };
  for (R_xlen_t i = 0; i < n; ++i) {
    SEXP s = value[i];
    size_t k = place(s);
    if (slot[k] < 0) {
      if (2 * (found.size() + 1) > slot.size()) {
        slot.assign(4 * slot.size(), -1);
        mask = slot.size() - 1;
        for (size_t f = 0; f < found.size(); ++f) slot[place(found[f])] = f;
        k = place(s);
      }
      slot[k] = found.size();
      found.push_back(s);
    }
    at[i] = slot[k] + 1;
  }
  Rcpp::CharacterVector distinct(found.size());
  for (size_t f = 0; f < found.size(); ++f) SET_STRING_ELT(distinct, f, found[f]);
  return Rcpp::List::create(Rcpp::_["distinct"] = distinct, Rcpp::_["at"] = at);
}
