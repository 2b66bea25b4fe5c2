// The one pass over the responses: how many students of each group and score
// bin gave each answer of each item. Everything else is computed from it.
#include <Rcpp.h>
#include "pairs.h"
#include <algorithm>
#include <climits>
#include <cstdint>
#include <map>
#include <memory>
#include <unordered_map>
#include <utility>
#include <vector>

namespace {

const int kBlock = 512;          // students at a time: their codes stay in cache
const int64_t kDirect = 1 << 16; // totals up to here index a table directly
const int kDenseCodes = 256;     // items with more distinct cells count sparsely

// Maps an earned total to its bin within one (group, points not open) class.
class TotalIndex {
 public:
  explicit TotalIndex(int64_t max_total) {
    if (max_total < kDirect) direct_.assign(max_total + 1, -1);
  }
  int& slot(int64_t total) {
    if (total >= 0 && total < static_cast<int64_t>(direct_.size()))
      return direct_[total];
    return hashed_.emplace(total, -1).first->second;
  }

 private:
  std::vector<int> direct_;
  std::unordered_map<int64_t, int> hashed_;
};

struct Bin {
  int group;
  int64_t earned;
  int64_t lacking;
  int64_t n;
};

struct Item {
  std::vector<int64_t> earned;   // by code; index 0 is never used
  std::vector<int64_t> lacking;  // by code: the item's points where no value
  bool has_lacking = false;
  bool dense = true;
  int n_codes = 0;
  int only = 0;                  // the code that earns, where it is one alone
  int64_t offset = 0;            // into a bin's row of dense counters
  std::vector<uint64_t> pairs;   // bin << 32 | code, for the sparse ones
};

class Tally {
 public:
  Tally(const Rcpp::List& units, const Rcpp::NumericVector& open, int n_groups)
      : items_(units.size()), whole_class_(n_groups + 1, nullptr) {
    for (R_xlen_t j = 0; j < units.size(); ++j) read_item(j, units[j], open[j]);
  }

  // Pairs of items are counted on the way where the students are one group and
  // every item has one code that earns, and it earns one unit.
  void count_pairs() {
    const auto plain = [](const Item& it) { return it.only && it.earned[it.only] == 1; };
    if (whole_class_.size() == 2 && max_total_ < INT_MAX && std::all_of(items_.begin(), items_.end(), plain))
      pairs_.reset(new PairCounts(items_.size()));
  }

  void count(const Rcpp::IntegerMatrix& codes, const Rcpp::IntegerVector& group) {
    const int n = codes.nrow();
    bins_.push_back({0, 0, 0, 0});  // where the students of no group go
    counts_.assign(stride_, 0);
    for (int start = 0; start < n; start += kBlock) {
      Rcpp::checkUserInterrupt();
      count_block(codes, group, start, std::min(kBlock, n - start));
    }
  }

  Rcpp::List result() {
    std::vector<int> bin, item, code;
    std::vector<double> count;
    auto add = [&](int b, int j, int c, int64_t k) {
      bin.push_back(b);
      item.push_back(j + 1);
      code.push_back(c);
      count.push_back(static_cast<double>(k));
    };
    for (size_t j = 0; j < items_.size(); ++j) {
      Item& it = items_[j];
      if (it.dense) {
        for (size_t b = 1; b < bins_.size(); ++b)
          for (int c = 1; c <= it.n_codes; ++c) {
            const int64_t k = counts_[b * stride_ + it.offset + c];
            if (k) add(b, j, c, k);
          }
      } else {
        std::sort(it.pairs.begin(), it.pairs.end());
        for (size_t a = 0, z = 0; a < it.pairs.size(); a = z) {
          while (z < it.pairs.size() && it.pairs[z] == it.pairs[a]) ++z;
          add(it.pairs[a] >> 32, j, static_cast<int>(it.pairs[a] & 0xffffffffu), z - a);
        }
      }
    }
    return Rcpp::List::create(
        Rcpp::_["bins"] = bins_frame(), Rcpp::_["bin"] = bin, Rcpp::_["item"] = item,
        Rcpp::_["code"] = code, Rcpp::_["count"] = count,
        Rcpp::_["pairs"] = pairs_ ? Rcpp::wrap(pairs_->whole()) : R_NilValue);
  }

 private:
  std::vector<Item> items_;
  std::vector<Bin> bins_;
  std::vector<int> counts_;
  std::map<std::pair<int, int64_t>, TotalIndex> classes_;
  std::vector<TotalIndex*> whole_class_;
  std::unique_ptr<PairCounts> pairs_;
  int64_t stride_ = 0;
  int64_t max_total_ = 0;

  void read_item(R_xlen_t j, const Rcpp::NumericVector& units, double open) {
    Item& it = items_[j];
    it.n_codes = units.size();
    it.earned.assign(it.n_codes + 1, 0);
    it.lacking.assign(it.n_codes + 1, 0);
    int64_t most = 0;
    for (int c = 0; c < it.n_codes; ++c) {
      if (Rcpp::NumericVector::is_na(units[c])) {
        it.lacking[c + 1] = static_cast<int64_t>(open);
        it.has_lacking = true;
      } else {
        it.earned[c + 1] = static_cast<int64_t>(units[c]);
        most = std::max(most, it.earned[c + 1]);
      }
    }
    max_total_ += most;
    const auto earns = [](int64_t value) { return value != 0; };
    if (std::count_if(it.earned.begin(), it.earned.end(), earns) == 1)
      it.only = std::find_if(it.earned.begin(), it.earned.end(), earns) - it.earned.begin();
    it.dense = it.n_codes <= kDenseCodes;
    it.offset = stride_;
    if (it.dense) stride_ += it.n_codes + 1;
  }

  void count_block(const Rcpp::IntegerMatrix& codes, const Rcpp::IntegerVector& group,
                   int start, int m) {
    int64_t earned[kBlock] = {0}, lacking[kBlock] = {0};
    int small[kBlock] = {0};  // what the items with one earning code add
    int64_t row[kBlock];
    int bin[kBlock];
    const int n_items = items_.size();
    for (int j = 0; j < n_items; ++j) {
      const Item& it = items_[j];
      const int* code = &codes(start, j);
      check_codes(code, m, it.n_codes);
      if (m == kBlock && it.only && max_total_ < INT_MAX) {
        add_where_equal(code, it.only, static_cast<int>(it.earned[it.only]), small);
      } else {
        const int64_t* value = it.earned.data();
        for (int i = 0; i < m; ++i) earned[i] += value[code[i]];
      }
      if (pairs_) pack_bits(code, it.only, m, pairs_->words(j));
      if (it.has_lacking) {
        const int64_t* lack = it.lacking.data();
        for (int i = 0; i < m; ++i) lacking[i] += lack[code[i]];
      }
    }
    for (int i = 0; i < m; ++i) {
      earned[i] += small[i];
      bin[i] = group[start + i] > 0 ? find_bin(group[start + i], earned[i], lacking[i]) : 0;
      row[i] = bin[i] * stride_;
    }
    if (pairs_) keep_complete(m, bin, lacking);
    for (int j = 0; j < n_items; ++j) {
      Item& it = items_[j];
      const int* code = &codes(start, j);
      if (it.dense) {
        count_codes(counts_.data() + it.offset, row, code, m);
      } else {
        for (int i = 0; i < m; ++i)
          if (bin[i]) it.pairs.push_back(static_cast<uint64_t>(bin[i]) << 32 | code[i]);
      }
    }
  }

  // Pairs are of the students who have a value on every item.
  void keep_complete(int m, const int* bin, const int64_t* lacking) {
    const int words = (m + 63) / 64;
    for (int w = 0; w < words; ++w) {
      uint64_t complete = 0;
      for (int i = w * 64; i < std::min(m, w * 64 + 64); ++i)
        complete |= static_cast<uint64_t>(bin[i] && lacking[i] == 0) << (i % 64);
      if (complete != ~uint64_t(0)) pairs_->keep(w, complete);
    }
    pairs_->advance(words);
  }

  // Apart, so that the compiler keeps everything in registers.
  __attribute__((noinline)) static void count_codes(int* counter, const int64_t* row, const int* code, int m) {
    for (int i = 0; i < m; ++i) ++counter[row[i] + code[i]];
  }

  // Loops of a known length, so that the compiler takes many codes at once.
  static void add_where_equal(const int* code, int wanted, int value, int* earned) {
    for (int i = 0; i < kBlock; ++i) earned[i] += code[i] == wanted ? value : 0;
  }

  static unsigned outside(const int* code, int m, int n_codes) {
    unsigned sign = 0;  // its top bit is set by a code below 1 or above n_codes
    if (m == kBlock) {
      for (int i = 0; i < kBlock; ++i)
        sign |= (static_cast<unsigned>(code[i]) - 1u) | (n_codes - static_cast<unsigned>(code[i]));
    } else {
      for (int i = 0; i < m; ++i)
        sign |= (static_cast<unsigned>(code[i]) - 1u) | (n_codes - static_cast<unsigned>(code[i]));
    }
    return sign >> 31;
  }

  static void check_codes(const int* code, int m, int n_codes) {
    if (outside(code, m, n_codes)) Rcpp::stop("a response code is outside its item's cells");
  }

  int find_bin(int group, int64_t earned, int64_t lacking) {
    TotalIndex* index = lacking == 0 ? whole_class_[group] : nullptr;
    if (!index) {
      index = &classes_.emplace(std::make_pair(group, lacking), TotalIndex(max_total_))
                   .first->second;
      if (lacking == 0) whole_class_[group] = index;
    }
    int& slot = index->slot(earned);
    if (slot < 0) {
      slot = bins_.size();
      bins_.push_back({group, earned, lacking, 0});
      counts_.resize(counts_.size() + stride_, 0);
    }
    ++bins_[slot].n;
    return slot;
  }

  Rcpp::List bins_frame() const {
    const R_xlen_t n = bins_.size() - 1;
    Rcpp::IntegerVector group(n);
    Rcpp::NumericVector earned(n), lacking(n), students(n);
    for (R_xlen_t b = 0; b < n; ++b) {
      const Bin& bin = bins_[b + 1];
      group[b] = bin.group;
      earned[b] = static_cast<double>(bin.earned);
      lacking[b] = static_cast<double>(bin.lacking);
      students[b] = static_cast<double>(bin.n);
    }
    return Rcpp::List::create(Rcpp::_["group"] = group, Rcpp::_["earned"] = earned,
                              Rcpp::_["lacking"] = lacking, Rcpp::_["n"] = students);
  }
};

}  // namespace

// units: for each item the points of each code in whole units, NA for none;
// open: the most an item gives, in the same units; group: 0 leaves a row out;
// pairs: whether sums of products are wanted where they can be had on the way.
// [[Rcpp::export]]
Rcpp::List tally_codes(const Rcpp::IntegerMatrix& codes, const Rcpp::List& units,
                       const Rcpp::NumericVector& open,
                       const Rcpp::IntegerVector& group, int n_groups, bool pairs) {
  if (codes.nrow() != group.size() || codes.ncol() != units.size() ||
      open.size() != units.size())
    Rcpp::stop("codes, units, open and group differ in size");
  if (codes.nrow() == 0 || codes.ncol() == 0)
    return Tally(Rcpp::List(), Rcpp::NumericVector(), 0).result();
  Tally tally(units, open, n_groups);
  if (pairs) tally.count_pairs();
  tally.count(codes, group);
  return tally.result();
}
