// How many students earned the point on both items of every pair, 64 students
// at a time: a bit a student.
#ifndef PREGUNTA_PAIRS_H
#define PREGUNTA_PAIRS_H
#include <Rcpp.h>
#include <cstdint>
#include <vector>

double common_bits(const uint64_t* a, const uint64_t* b, std::size_t n);

// A bit for each of n codes: whether it is the one that earns the point. The
// last word is filled up with zeros. Comparing is quicker than looking up.
void pack_bits(const int* code, int wanted, std::size_t n, uint64_t* bits);

class PairCounts {
 public:
  static const std::size_t kWords = 128;  // 64-student words at a time
  explicit PairCounts(std::size_t n_items)
      : n_items_(n_items), bits_(n_items * kWords), sums_(n_items * n_items, 0.0) {}
  // Where the next words of an item go.
  uint64_t* words(std::size_t item) { return &bits_[item * kWords + filled_]; }
  // Of the words put last, only these bits count.
  void keep(std::size_t word, uint64_t bits) {
    for (std::size_t j = 0; j < n_items_; ++j) words(j)[word] &= bits;
  }
  // So many words of every item have been put.
  void advance(std::size_t words) {
    filled_ += words;
    if (filled_ == kWords) flush();
  }
  void flush() {
    for (std::size_t j = 0; j < n_items_; ++j)
      for (std::size_t k = j; k < n_items_; ++k)
        sums_[k * n_items_ + j] += common_bits(&bits_[j * kWords], &bits_[k * kWords], filled_);
    filled_ = 0;
  }
  // What has been counted, for j <= k.
  double sum(std::size_t j, std::size_t k) const { return sums_[k * n_items_ + j]; }
  Rcpp::NumericMatrix whole() {
    flush();
    Rcpp::NumericMatrix result(n_items_, n_items_);
    for (std::size_t j = 0; j < n_items_; ++j)
      for (std::size_t k = j; k < n_items_; ++k) result(j, k) = result(k, j) = sum(j, k);
    return result;
  }

 private:
  std::size_t n_items_, filled_ = 0;
  std::vector<uint64_t> bits_;
  std::vector<double> sums_;
};

#endif
