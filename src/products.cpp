// Sums of products of every pair of items, over the students with a value on
// each of them. For 0/1 items a pair is counted 64 students at a time.
#include <Rcpp.h>
#include "dot.h"
#include "pairs.h"
#include <algorithm>
#include <cstdint>
#include <vector>

namespace {

const size_t kStudents = 512; // students at a time, where points are graded

typedef std::vector<std::vector<double>> Values;  // item, then code - 1

void add_bit_products(const Rcpp::IntegerMatrix& codes, const Values& value,
                      const std::vector<int>& rows, Rcpp::NumericMatrix& sums) {
  const size_t n_items = value.size();
  std::vector<std::vector<unsigned char>> one(n_items);
  std::vector<int> only(n_items, 0);  // the code that earns 1, where it is one
  for (size_t j = 0; j < n_items; ++j) {
    one[j].push_back(0);
    for (double v : value[j]) one[j].push_back(v == 1.0);
    if (std::count(one[j].begin(), one[j].end(), 1) == 1)
      only[j] = std::find(one[j].begin(), one[j].end(), 1) - one[j].begin();
  }
  PairCounts pairs(n_items);
  const size_t students = PairCounts::kWords * 64;
  for (size_t start = 0; start < rows.size(); start += students) {
    Rcpp::checkUserInterrupt();
    const size_t m = std::min(students, rows.size() - start);
    const size_t words = (m + 63) / 64;
    const bool in_sequence = static_cast<size_t>(rows[start + m - 1] - rows[start]) == m - 1;
    for (size_t j = 0; j < n_items; ++j) {
      const int* column = &codes(0, j);
      const unsigned char* is_one = one[j].data();
      uint64_t* bits = pairs.words(j);
      if (in_sequence && only[j]) {
        pack_bits(column + rows[start], only[j], m, bits);
        continue;
      }
      std::fill(bits, bits + words, 0);
      for (size_t i = 0; i < m; ++i) bits[i / 64] |= static_cast<uint64_t>(is_one[column[rows[start + i]]]) << (i % 64);
    }
    pairs.advance(words);
  }
  pairs.flush();
  for (size_t j = 0; j < n_items; ++j)
    for (size_t k = j; k < n_items; ++k) sums(j, k) = pairs.sum(j, k);
}

void add_graded_products(const Rcpp::IntegerMatrix& codes, const Values& value,
                         const std::vector<int>& rows, Rcpp::NumericMatrix& sums) {
  const size_t n_items = value.size();
  std::vector<double> x(n_items * kStudents);
  for (size_t start = 0; start < rows.size(); start += kStudents) {
    Rcpp::checkUserInterrupt();
    const size_t m = std::min(kStudents, rows.size() - start);
    for (size_t j = 0; j < n_items; ++j) {
      const int* column = &codes(0, j);
      for (size_t i = 0; i < m; ++i)
        x[j * kStudents + i] = value[j][column[rows[start + i]] - 1];
    }
    for (size_t j = 0; j < n_items; ++j)
      for (size_t k = j; k < n_items; ++k)
        sums(j, k) += dot(&x[j * kStudents], &x[k * kStudents], m);
  }
}

}  // namespace

// points: for each item the points of each code, NA for none; a row counts in
// its group when group > 0 and it has a value on every item. One matrix a group.
// [[Rcpp::export]]
Rcpp::List item_products(const Rcpp::IntegerMatrix& codes, const Rcpp::List& points,
                         const Rcpp::IntegerVector& group, int n_groups) {
  const int n_items = codes.ncol(), n = codes.nrow();
  Values value(n_items);
  std::vector<std::vector<char>> lacks(n_items);
  std::vector<char> any_lack(n_items, 0);
  bool zero_one = true;
  for (int j = 0; j < n_items; ++j) {
    for (double v : Rcpp::as<std::vector<double>>(points[j])) {
      const bool lack = Rcpp::NumericVector::is_na(v);
      value[j].push_back(lack ? 0.0 : v);
      lacks[j].push_back(lack);
      any_lack[j] |= lack;
      zero_one = zero_one && (lack || v == 0.0 || v == 1.0);
    }
  }
  std::vector<char> complete(n, 1);
  for (int j = 0; j < n_items; ++j) {
    const int* column = n ? &codes(0, j) : nullptr;
    if (any_lack[j])
      for (int i = 0; i < n; ++i) complete[i] &= !lacks[j][column[i] - 1];
  }
  std::vector<std::vector<int>> rows(n_groups);
  for (int i = 0; i < n; ++i)
    if (group[i] > 0 && complete[i]) rows[group[i] - 1].push_back(i);

  Rcpp::List result(n_groups);
  for (int g = 0; g < n_groups; ++g) {
    Rcpp::NumericMatrix sums(n_items, n_items);
    if (zero_one) {
      add_bit_products(codes, value, rows[g], sums);
    } else {
      add_graded_products(codes, value, rows[g], sums);
    }
    for (int j = 0; j < n_items; ++j)
      for (int k = 0; k < j; ++k) sums(j, k) = sums(k, j);
    result[g] = sums;
  }
  return result;
}
