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
  // Of all of them; false when there are more than `most`.
  bool code_all(const SEXP* value, R_xlen_t n, double most, int* out) {
    const Slot* slot = slot_.data();
    size_t mask = mask_;
    for (R_xlen_t i = 0; i < n; ++i) {
      const Slot& there = slot[first_place(value[i], mask)];
      if (there.key == value[i]) {
        out[i] = there.code;
        continue;
      }
      out[i] = code(value[i]);
      if (found_.size() > most) return false;
      slot = slot_.data();
      mask = mask_;
    }
    return true;
  }
  size_t size() const { return found_.size(); }
  Rcpp::CharacterVector strings() const {
    Rcpp::CharacterVector distinct(found_.size());
    for (size_t f = 0; f < found_.size(); ++f) SET_STRING_ELT(distinct, f, found_[f]);
    return distinct;
  }

 private:
  struct Slot { SEXP key; int code; };
  static size_t first_place(SEXP s, size_t mask) {
    return (reinterpret_cast<uintptr_t>(s) * 0x9E3779B97F4A7C15ULL >> 40) & mask;
  }
  size_t place(SEXP s) const {
    size_t k = first_place(s, mask_);
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
  codes.code_all(value, n, R_PosInf, at.begin());
  return Rcpp::List::create(Rcpp::_["distinct"] = codes.strings(), Rcpp::_["at"] = at);
}

// The same of several columns at once, each as a factor of its distinct values; NULL for a
// column that has more of them than `most`.
// [[Rcpp::export]]
Rcpp::List code_columns(Rcpp::List columns, double most) {
  Rcpp::List factors(columns.size());
  for (R_xlen_t j = 0; j < columns.size(); ++j) {
    const Rcpp::CharacterVector column(columns[j]);
    Rcpp::IntegerVector at(Rcpp::no_init(column.size()));
    StringCodes codes;
    if (!codes.code_all(STRING_PTR_RO(column), column.size(), most, at.begin())) continue;
    at.attr("levels") = codes.strings();
    at.attr("whole") = true;
    at.attr("class") = "factor";
    factors[j] = at;
  }
  return factors;
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

// Where the row of each student and item lies in a long table, a student's items side by
// side: 0 when there is none, the last of several. `item` is the number of each row's item
// among those of the table, `meant` what that one is in the test. Also how many stand
// twice, how many are placed, and the first row of each student.
// [[Rcpp::export]]
Rcpp::List place_long(const Rcpp::IntegerVector& row, const Rcpp::IntegerVector& item,
                      const Rcpp::IntegerVector& meant, int n_rows, int n_items) {
  Rcpp::IntegerVector at(static_cast<R_xlen_t>(n_rows) * n_items), first(n_rows);
  int* const place = at.begin();
  int* const begins = first.begin() - 1;
  const int* const student = row.begin();
  const int* const asked = item.begin();
  const int* const means = meant.begin() - 1;
  const R_xlen_t n = row.size();
  double twice = 0, placed = 0;
  for (R_xlen_t i = 0; i < n; ++i) {
    const int s = student[i];
    if (begins[s] == 0) begins[s] = i + 1;
    const int j = means[asked[i]];
    if (j == NA_INTEGER) continue;
    int& cell = place[static_cast<R_xlen_t>(s - 1) * n_items + j - 1];
    if (cell == 0) ++placed;
    else ++twice;
    cell = i + 1;
  }
  return Rcpp::List::create(Rcpp::_["at"] = at, Rcpp::_["twice"] = twice, Rcpp::_["placed"] = placed,
    Rcpp::_["first"] = first);
}

// Of each item the codes of the cells that place_long() found, as `means` says what each
// code is called; code 1 is a row that is missing.
// [[Rcpp::export]]
Rcpp::List gather_long(const Rcpp::IntegerVector& at, const Rcpp::IntegerVector& code,
                       const Rcpp::IntegerVector& means, int n_rows, int n_items) {
  Rcpp::List columns(n_items);
  std::vector<int*> column(n_items);
  for (int j = 0; j < n_items; ++j) {
    const Rcpp::IntegerVector one(Rcpp::no_init(n_rows));
    columns[j] = one;
    column[j] = INTEGER(columns[j]);
  }
  const int* const known = code.begin() - 1;
  const int* const called = means.begin() - 1;
  // A student's rows mostly stand together: some students at a time stay in the cache.
  const int block = 256;
  for (int from = 0; from < n_rows; from += block) {
    const int to = std::min(n_rows, from + block);
    for (int j = 0; j < n_items; ++j) {
      const int* const place = at.begin() + j;
      int* const out = column[j];
      for (int i = from; i < to; ++i) {
        const int here = place[static_cast<R_xlen_t>(i) * n_items];
        out[i] = here ? called[known[here]] : 1;
      }
    }
  }
  return columns;
}

// The matrix of codes, students by items: of each item, which of its distinct
// answers a student gave (`at`) and what code that answer has (`code`). Code 0
// is a blank: omitted when a later item was answered (a code above `fixed`),
// else not reached.
// [[Rcpp::export]]
Rcpp::IntegerMatrix code_matrix(Rcpp::List at, Rcpp::List code, int n, int fixed, int omitted, int not_reached) {
  const int k = at.size();
  Rcpp::IntegerMatrix out(Rcpp::no_init(n, k));
  std::vector<const int*> answer(k), meaning(k);
  for (int j = 0; j < k; ++j) {
    answer[j] = INTEGER_RO(at[j]);
    meaning[j] = INTEGER_RO(code[j]);
  }
  // Some students at a time: what is known of them stays in the cache.
  const int block = 4096;
  std::vector<int> blank(block);
  for (int from = 0; from < n; from += block) {
    const int many = std::min(block, n - from);
    std::fill(blank.begin(), blank.end(), not_reached);
    for (int j = k - 1; j >= 0; --j) {
      const int* const given = answer[j] + from;
      const int* const means = meaning[j] - 1;
      int* const column = &out(from, j);
      for (int i = 0; i < many; ++i) {
        const int c = means[given[i]];
        column[i] = c != 0 ? c : blank[i];
        blank[i] = c > fixed ? omitted : blank[i];
      }
    }
  }
  return out;
}

// How many codes of each of these rows (from 1) are of each kind, rows by kinds. `kinds`
// says for each item of which kind, from 1, each of its codes is; 0 is of none.
// [[Rcpp::export]]
Rcpp::IntegerMatrix count_kinds(Rcpp::IntegerMatrix codes, Rcpp::List kinds, int n_kinds,
                                Rcpp::IntegerVector rows) {
  const R_xlen_t n = rows.size();
  Rcpp::IntegerMatrix out(n, n_kinds);
  int* const count = out.begin() - n;
  const int* const row = rows.begin();
  for (int j = 0; j < codes.ncol(); ++j) {
    const Rcpp::IntegerVector kind = kinds[j];
    const int* const of = kind.begin() - 1;
    const int* const column = &codes(0, j) - 1;
    for (R_xlen_t i = 0; i < n; ++i) {
      const int k = of[column[row[i]]];
      if (k) ++count[k * n + i];
    }
  }
  return out;
}

// Which rows hold a code that is flagged for their item. Only those not found yet are
// looked at in the next column.
// [[Rcpp::export]]
Rcpp::LogicalVector any_flagged(Rcpp::IntegerMatrix codes, Rcpp::List flags) {
  const int n = codes.nrow();
  Rcpp::LogicalVector out(n);
  std::vector<int> left(n);
  for (int i = 0; i < n; ++i) left[i] = i;
  for (int j = 0; j < codes.ncol(); ++j) {
    Rcpp::LogicalVector flag = flags[j];
    if (std::find(flag.begin(), flag.end(), TRUE) == flag.end()) continue;
    const int* column = &codes(0, j);
    size_t still = 0;
    for (const int i : left) {
      if (flag[column[i] - 1]) out[i] = TRUE;
      else left[still++] = i;
    }
    left.resize(still);
  }
  return out;
}

// Cells that were written as one text a row, each as item * step + code, blanks between.
// Code 0 is a blank, before the last answer or after it; an item that is not there is
// `missing`, or a blank too where that is 0.
// [[Rcpp::export]]
Rcpp::IntegerMatrix unpack_cells(Rcpp::CharacterVector texts, int n_items, int step,
                                 int fixed, int omitted, int not_reached, int missing) {
  Rcpp::IntegerMatrix out(texts.size(), n_items);
  std::fill(out.begin(), out.end(), -1);
  for (R_xlen_t i = 0; i < texts.size(); ++i) {
    for (const char* at = CHAR(STRING_ELT(texts, i)); *at;) {
      long number = 0;
      while (*at >= '0' && *at <= '9') number = 10 * number + (*at++ - '0');
      if (*at) ++at;
      const long item = number / step;
      const int code = number % step;
      // Of several rows of an item one with nothing in it is none.
      if (item >= 1 && item <= n_items && (code > 0 || out(i, item - 1) < 0)) {
        out(i, item - 1) = code;
      }
    }
    bool answered = false;
    for (int j = n_items - 1; j >= 0; --j) {
      int& code = out(i, j);
      if (code < 0) code = missing;
      if (code == 0) code = answered ? omitted : not_reached;
      answered |= code > fixed;
    }
  }
  return out;
}
