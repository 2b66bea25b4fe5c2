// Bits of 64 students: packing them from codes and counting those in common,
// 256 bits at a time where the processor can.
#include "pairs.h"
#include <algorithm>
#if defined(__x86_64__) && defined(__GNUC__)
#include <immintrin.h>
#define PREGUNTA_WIDE __attribute__((target("avx2")))
#endif

namespace {

// So many codes as a word at its low end.
uint64_t pack_word(const int* code, int wanted, std::size_t n) {
  uint64_t word = 0;
  for (std::size_t b = 0; b < n; ++b) word |= static_cast<uint64_t>(code[b] == wanted) << b;
  return word;
}

uint64_t spread_count(uint64_t x) {  // bits set, in eight bytes
  x -= (x >> 1) & 0x5555555555555555ull;
  x = (x & 0x3333333333333333ull) + ((x >> 2) & 0x3333333333333333ull);
  return (x + (x >> 4)) & 0x0f0f0f0f0f0f0f0full;
}

double common_bits_anywhere(const uint64_t* a, const uint64_t* b, std::size_t n) {
  uint64_t total = 0;
  for (std::size_t start = 0; start < n; start += 16) {
    uint64_t bytes = 0;  // 16 words add at most 128 to a byte: no overflow
    const std::size_t end = std::min(n, start + 16);
    for (std::size_t w = start; w < end; ++w) bytes += spread_count(a[w] & b[w]);
    total += (bytes & 0x00ff00ff00ff00ffull) * 0x0001000100010001ull >> 48;
    total += (bytes >> 8 & 0x00ff00ff00ff00ffull) * 0x0001000100010001ull >> 48;
  }
  return static_cast<double>(total);
}

#ifdef PREGUNTA_WIDE
bool is_wide() {
  static const bool wide = __builtin_cpu_supports("avx2");
  return wide;
}

PREGUNTA_WIDE __m256i load(const void* from) { return _mm256_loadu_si256(static_cast<const __m256i*>(from)); }

// 32 comparisons are narrowed to bytes, put back in order, and one bit of each
// byte taken.
PREGUNTA_WIDE uint64_t pack_32(const int* code, __m256i wanted) {
  const __m256i order = _mm256_setr_epi32(0, 4, 1, 5, 2, 6, 3, 7);
  const __m256i front = _mm256_packs_epi32(_mm256_cmpeq_epi32(load(code), wanted),
                                           _mm256_cmpeq_epi32(load(code + 8), wanted));
  const __m256i back = _mm256_packs_epi32(_mm256_cmpeq_epi32(load(code + 16), wanted),
                                          _mm256_cmpeq_epi32(load(code + 24), wanted));
  const __m256i bytes = _mm256_permutevar8x32_epi32(_mm256_packs_epi16(front, back), order);
  return static_cast<uint32_t>(_mm256_movemask_epi8(bytes));
}

PREGUNTA_WIDE void pack_words_wide(const int* code, int wanted, std::size_t words, uint64_t* bits) {
  const __m256i key = _mm256_set1_epi32(wanted);
  for (std::size_t w = 0; w < words; ++w)
    bits[w] = pack_32(code + w * 64, key) | pack_32(code + w * 64 + 32, key) << 32;
}

// The bits of each half byte are looked up, and the bytes added.
PREGUNTA_WIDE double common_bits_wide(const uint64_t* a, const uint64_t* b, std::size_t n) {
  const __m256i half = _mm256_set1_epi8(15), zero = _mm256_setzero_si256();
  const __m256i bits_in = _mm256_setr_epi8(0, 1, 1, 2, 1, 2, 2, 3, 1, 2, 2, 3, 2, 3, 3, 4,
                                           0, 1, 1, 2, 1, 2, 2, 3, 1, 2, 2, 3, 2, 3, 3, 4);
  __m256i total = zero;
  std::size_t w = 0;
  while (w + 4 <= n) {
    __m256i bytes = zero;  // 16 rounds add at most 128 to a byte: no overflow
    for (int round = 0; round < 16 && w + 4 <= n; ++round, w += 4) {
      const __m256i both = _mm256_and_si256(load(a + w), load(b + w));
      const __m256i low = _mm256_shuffle_epi8(bits_in, _mm256_and_si256(both, half));
      const __m256i high = _mm256_shuffle_epi8(bits_in, _mm256_and_si256(_mm256_srli_epi16(both, 4), half));
      bytes = _mm256_add_epi8(bytes, _mm256_add_epi8(low, high));
    }
    total = _mm256_add_epi64(total, _mm256_sad_epu8(bytes, zero));
  }
  uint64_t sums[4];
  _mm256_storeu_si256(reinterpret_cast<__m256i*>(sums), total);
  return static_cast<double>(sums[0] + sums[1] + sums[2] + sums[3]) + common_bits_anywhere(a + w, b + w, n - w);
}
#endif

}  // namespace

void pack_bits(const int* code, int wanted, std::size_t n, uint64_t* bits) {
  std::size_t w = 0;
#ifdef PREGUNTA_WIDE
  if (is_wide()) pack_words_wide(code, wanted, w = n / 64, bits);
#endif
  for (; w * 64 < n; ++w) bits[w] = pack_word(code + w * 64, wanted, std::min<std::size_t>(64, n - w * 64));
}

double common_bits(const uint64_t* a, const uint64_t* b, std::size_t n) {
#ifdef PREGUNTA_WIDE
  if (is_wide()) return common_bits_wide(a, b, n);
#endif
  return common_bits_anywhere(a, b, n);
}
