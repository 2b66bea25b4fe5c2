// Columns of text as small whole numbers, and the numbers as a matrix of codes.
#include <Rcpp.h>
#include <algorithm>
#include <cstdint>
#include <vector>

// The distinct values of a character vector in the order of their first
// appearance, and where each element stands among them (from 1). Equal strings
// share one pointer in R once they are in one encoding, so a pointer is enough
// to tell them apart; a string that comes in two encodings stands twice, and
// the caller's match() by value brings the two together.
class StringCodes {
 public:
  // From 1 on, in the order in which the strings are first seen.
  int code(SEXP s) {
    size_t k = place(s);
    if (!slot_[k].key) {
      if (2 * (found_.size() + 1) > slot_.size()) {
        slot_.assign(4 * slot_.size(), Slot{nullptr, 0});
        mask_ = slot_.size() - 1;
        for (size_t f = 0; f < found_.size(); ++f) {
          slot_[place(found_[f])] = Slot{found_[f], static_cast<int>(f) + 1};
        }
        k = place(s);
      }
      found_.push_back(s);
      slot_[k] = Slot{s, static_cast<int>(found_.size())};
    }
    return slot_[k].code;
  }
  size_t size() const { return found_.size(); }
  Rcpp::CharacterVector strings() const {
    Rcpp::CharacterVector distinct(found_.size());
    for (size_t f = 0; f < found_.size(); ++f) SET_STRING_ELT(distinct, f, found_[f]);
    return distinct;
  }

 private:
  struct Slot { SEXP key; int code; };
  size_t place(SEXP s) const {
    size_t k = (reinterpret_cast<uintptr_t>(s) * 0x9E3779B97F4A7C15ULL >> 40) & mask_;
    while (slot_[k].key && slot_[k].key != s) k = (k + 1) & mask_;
    return k;
  }
  std::vector<SEXP> found_;
  std::vector<Slot> slot_ = std::vector<Slot>(64, Slot{nullptr, 0});
  size_t mask_ = 63;
};

// [[Rcpp::export]]
Rcpp::List distinct_strings(Rcpp::CharacterVector x) {
  const R_xlen_t n = x.size();
  const SEXP* value = STRING_PTR_RO(x);
  Rcpp::IntegerVector at(Rcpp::no_init(n));
  StringCodes codes;
  int* out = at.begin();
  for (R_xlen_t i = 0; i < n; ++i) out[i] = codes.code(value[i]);
  return Rcpp::List::create(Rcpp::_["distinct"] = codes.strings(), Rcpp::_["at"] = at);
}

// The same without where each stands, which takes no room: how often it is there.
// [[Rcpp::export]]
Rcpp::List count_strings(Rcpp::CharacterVector x) {
  const R_xlen_t n = x.size();
  const SEXP* value = STRING_PTR_RO(x);
  StringCodes codes;
  std::vector<int> count;
  for (R_xlen_t i = 0; i < n; ++i) {
    const size_t k = codes.code(value[i]);
    if (k > count.size()) count.push_back(0);
    ++count[k - 1];
  }
  return Rcpp::List::create(
    Rcpp::_["distinct"] = codes.strings(),
    Rcpp::_["counts"] = Rcpp::IntegerVector(count.begin(), count.end()));
}

// How many cells of each row of columns say something.
// [[Rcpp::export]]
Rcpp::IntegerVector count_filled(Rcpp::List columns, int n) {
  Rcpp::IntegerVector filled(n);
  for (const auto& each : columns) {
    const Rcpp::CharacterVector column(each);
    const SEXP* value = STRING_PTR_RO(column);
    for (int i = 0; i < n; ++i) filled[i] += value[i] != R_BlankString;
  }
  return filled;
}

// Which strings begin or end with a blank (a space, tab, line end or no-break
// space), from 1.
// [[Rcpp::export]]
Rcpp::IntegerVector padded_strings(Rcpp::CharacterVector x) {
  std::vector<int> found;
  auto is_blank = [](unsigned char byte) { return byte == ' ' || (byte >= 9 && byte <= 13); };
  for (R_xlen_t i = 0; i < x.size(); ++i) {
    SEXP s = x[i];
    const int n = LENGTH(s);
    if (s == NA_STRING || n == 0) continue;
    const char* text = CHAR(s);
    bool padded = is_blank(text[0]) || is_blank(text[n - 1]);
    if (n > 1) { // the no-break space is C2 A0
      padded = padded || (text[0] == '\xC2' && text[1] == '\xA0') || (text[n - 2] == '\xC2' && text[n - 1] == '\xA0');
    }
    if (padded) found.push_back(i + 1);
  }
  return Rcpp::wrap(found);
}

// Where the row of each student and item lies in a long table: 0 when there is
// none, the last of several. Also how many stand twice, and the first of them.
// [[Rcpp::export]]
Rcpp::List place_long(Rcpp::IntegerVector row, Rcpp::IntegerVector item, int n_rows, int n_items) {
  Rcpp::IntegerVector at(static_cast<R_xlen_t>(n_rows) * n_items);
  double twice = 0, first_twice = NA_REAL, placed = 0;
  for (R_xlen_t i = 0; i < row.size(); ++i) {
    if (item[i] == NA_INTEGER) continue;
    int& cell = at[static_cast<R_xlen_t>(item[i] - 1) * n_rows + row[i] - 1];
    if (cell == 0) ++placed;
    else if (++twice == 1) first_twice = i + 1;
    cell = i + 1;
  }
  return Rcpp::List::create(Rcpp::_["at"] = at, Rcpp::_["twice"] = twice, Rcpp::_["first_twice"] = first_twice,
    Rcpp::_["placed"] = placed);
}

// The matrix of codes, students by items: of each item, which of its distinct
// answers a student gave (`at`) and what code that answer has (`code`). Code 0
// is a blank: omitted when a later item was answered (a code above `fixed`),
// else not reached.
// [[Rcpp::export]]
Rcpp::IntegerMatrix code_matrix(Rcpp::List at, Rcpp::List code, int n, int fixed, int omitted, int not_reached) {
  Rcpp::IntegerMatrix out(Rcpp::no_init(n, at.size()));
  std::vector<char> answered(n, 0);
  for (R_xlen_t j = at.size() - 1; j >= 0; --j) {
    Rcpp::IntegerVector answer = at[j], meaning = code[j];
    const int* a = answer.begin();
    const int* m = meaning.begin();
    int* column = &out(0, j);
    for (int i = 0; i < n; ++i) {
      const int c = m[a[i] - 1];
      column[i] = c != 0 ? c : (answered[i] ? omitted : not_reached);
      answered[i] |= c > fixed;
    }
  }
  return out;
}

// How many codes of each row are flagged for their item.
// [[Rcpp::export]]
Rcpp::IntegerVector count_flagged(Rcpp::IntegerMatrix codes, Rcpp::List flags) {
  const int n = codes.nrow();
  Rcpp::IntegerVector out(n);
  for (int j = 0; j < codes.ncol(); ++j) {
    Rcpp::LogicalVector flag = flags[j];
    const int* column = &codes(0, j);
    for (int i = 0; i < n; ++i) out[i] += flag[column[i] - 1];
  }
  return out;
}

// Which rows hold a code that is flagged for its item.
// [[Rcpp::export]]
Rcpp::LogicalVector any_flagged(Rcpp::IntegerMatrix codes, Rcpp::List flags) {
  const int n = codes.nrow();
  Rcpp::LogicalVector out(n);
  for (int j = 0; j < codes.ncol(); ++j) {
    Rcpp::LogicalVector flag = flags[j];
    if (std::find(flag.begin(), flag.end(), TRUE) == flag.end()) continue;
    const int* column = &codes(0, j);
    for (int i = 0; i < n; ++i) {
      if (flag[column[i] - 1]) out[i] = TRUE;
    }
  }
  return out;
}
