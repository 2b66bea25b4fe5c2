// How many students earned the point on both items of every pair, 64 students
// at a time: a bit a student.
#ifndef PREGUNTA_PAIRS_H
#define PREGUNTA_PAIRS_H
#include <Rcpp.h>
#include <cstdint>
#include <vector>
#if defined(__SSE2__)
#include <emmintrin.h>
#endif

double common_bits(const uint64_t* a, const uint64_t* b, std::size_t n);

// Whether each of 64 codes is the one that earns the point. Comparing is
// quicker than looking up.
inline uint64_t pack_equal(const int* code, int wanted) {
  uint64_t word = 0;
#if defined(__SSE2__)
  const __m128i key = _mm_set1_epi32(wanted);
  for (int b = 0; b < 64; b += 16) {
    __m128i hit[4];
    for (int k = 0; k < 4; ++k)
      hit[k] = _mm_cmpeq_epi32(
          _mm_loadu_si128(reinterpret_cast<const __m128i*>(code + b + 4 * k)), key);
    const __m128i bytes = _mm_packs_epi16(_mm_packs_epi32(hit[0], hit[1]),
                                          _mm_packs_epi32(hit[2], hit[3]));
    word |= static_cast<uint64_t>(_mm_movemask_epi8(bytes)) << b;
  }
#else
  for (int b = 0; b < 64; ++b) word |= static_cast<uint64_t>(code[b] == wanted) << b;
#endif
  return word;
}

class PairCounts {
 public:
  static const std::size_t kWords = 128;  // 64-student words at a time
  explicit PairCounts(std::size_t n_items)
      : n_items_(n_items), bits_(n_items * kWords), sums_(n_items * n_items, 0.0) {}
  std::size_t room() const { return kWords - filled_; }
  void put(std::size_t item, std::size_t word, uint64_t bits) { bits_[item * kWords + filled_ + word] = bits; }
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
