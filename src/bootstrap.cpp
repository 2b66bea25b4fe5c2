// Figures of resampled students. A replicate draws as many students as there
// are, with replacement; drawing is counting how often each one was drawn, so
// that a figure is a weighted sum over the same rows every time.
#include <Rcpp.h>
#include "dot.h"
#include <algorithm>
#include <cmath>
#include <cstdint>
#include <numeric>
#include <vector>

namespace {

// Numbers that are the same on every machine for a seed (Blackman & Vigna's
// xoshiro256**, seeded by splitmix64).
class Draws {
 public:
  explicit Draws(uint64_t seed) {
    for (uint64_t& word : state_) {
      uint64_t z = (seed += 0x9e3779b97f4a7c15ull);
      z = (z ^ (z >> 30)) * 0xbf58476d1ce4e5b9ull;
      z = (z ^ (z >> 27)) * 0x94d049bb133111ebull;
      word = z ^ (z >> 31);
    }
  }
  // How often each of n students is drawn in n draws.
  void resample(std::vector<double>& weight) {
    const uint64_t n = weight.size();
    std::fill(weight.begin(), weight.end(), 0.0);
    for (uint64_t i = 0; i < n; ++i) weight[((next() >> 32) * n) >> 32] += 1.0;
  }

 private:
  uint64_t state_[4];
  static uint64_t turn(uint64_t x, int k) { return (x << k) | (x >> (64 - k)); }
  uint64_t next() {
    const uint64_t result = turn(state_[1] * 5, 7) * 9, t = state_[1] << 17;
    state_[2] ^= state_[0];
    state_[3] ^= state_[1];
    state_[1] ^= state_[2];
    state_[0] ^= state_[3];
    state_[2] ^= t;
    state_[3] = turn(state_[3], 45);
    return result;
  }
};

const double kTiny = 1e-12;

double ratio_or_na(double top, double bottom) { return bottom > kTiny ? top / bottom : NA_REAL; }

// The rows of one group of students, an item's values side by side.
struct Rows {
  size_t n, k;
  bool whole;                         // every student has every item
  std::vector<double> valid, x, xx, r, rr, xr;
  Rows(const Rcpp::NumericMatrix& points, const Rcpp::NumericMatrix& rest)
      : n(points.nrow()), k(points.ncol()), whole(true), x(n * k), xx(n * k), xr(n * k) {
    valid.assign(n * k, 1.0);
    r.resize(n * k);
    rr.resize(n * k);
    for (size_t c = 0; c < n * k; ++c) {
      if (ISNAN(points[c]) || ISNAN(rest[c])) {
        valid[c] = 0.0;
        whole = false;
        continue;
      }
      x[c] = points[c];
      r[c] = rest[c];
      xx[c] = x[c] * x[c];
      rr[c] = r[c] * r[c];
      xr[c] = x[c] * r[c];
    }
  }
};

struct Sums {
  double n, x, xx, r, rr, xr;
  double spread_x() const { return xx - x * x / n; }
  double spread_r() const { return rr - r * r / n; }
  double together() const { return xr - x * r / n; }
};

Sums item_sums(const Rows& rows, size_t j, const double* w) {
  const size_t from = j * rows.n;
  Sums s;
  s.n = dot(w, &rows.valid[from], rows.n);
  s.x = dot(w, &rows.x[from], rows.n);
  s.xx = dot(w, &rows.xx[from], rows.n);
  s.r = dot(w, &rows.r[from], rows.n);
  s.rr = dot(w, &rows.rr[from], rows.n);
  s.xr = dot(w, &rows.xr[from], rows.n);
  return s;
}

double correlation(const Sums& s) {
  const double a = s.spread_x(), b = s.spread_r();
  return s.n >= 3 && a > kTiny && b > kTiny ? s.together() / std::sqrt(a * b) : NA_REAL;
}

// Share of each student's weight that lies in the upper or lower group;
// students of one tie share its places.
void outer_group(const std::vector<double>& w, const std::vector<int>& order, const std::vector<int>& tie,
                 double fraction, bool upper, std::vector<double>& out) {
  std::fill(out.begin(), out.end(), 0.0);
  double all = 0;
  for (int i : order) all += w[i];
  double places = fraction * all;
  const size_t m = order.size();
  for (size_t start = 0; start < m && places > 0;) {
    size_t end = start;
    double tied = 0;
    auto at = [&](size_t p) { return order[upper ? p : m - 1 - p]; };
    while (end < m && tie[at(end)] == tie[at(start)]) tied += w[at(end++)];
    const double share = tied > 0 ? std::min(1.0, places / tied) : 0.0;
    for (size_t p = start; p < end; ++p) out[at(p)] = w[at(p)] * share;
    places -= tied;
    start = end;
  }
}

double mean_points(const Rows& rows, size_t j, const std::vector<double>& w, double all) {
  if (!rows.whole) all = dot(w.data(), &rows.valid[j * rows.n], rows.n);
  return ratio_or_na(dot(w.data(), &rows.x[j * rows.n], rows.n), all);
}

double sum_of(const std::vector<double>& w) { return std::accumulate(w.begin(), w.end(), 0.0); }

}  // namespace

// points, rest: students by items, NA for none; rest as a share. order: the
// students who have a total, the strongest first; tie: a number for each total;
// master: 1 for those at or above the cut. A row a replicate, a column an item.
// Without missing points the correlations follow from bootstrap_spread() too.
// [[Rcpp::export]]
Rcpp::List bootstrap_items(const Rcpp::NumericMatrix& points, const Rcpp::NumericMatrix& rest,
                           const Rcpp::NumericVector& most, const std::vector<int>& order,
                           const std::vector<int>& tie, const std::vector<double>& master,
                           double fraction, bool groups, int replicates, double seed) {
  const Rows rows(points, rest);
  const size_t k = rows.k;
  Rcpp::NumericMatrix discrimination(rows.whole ? 0 : replicates, k);
  Rcpp::NumericMatrix upper_lower(groups ? replicates : 0, k), mastery(groups ? replicates : 0, k);
  std::vector<double> w(rows.n), upper(rows.n), lower(rows.n), above(rows.n), below(rows.n);
  Draws draws(static_cast<uint64_t>(seed));
  for (int b = 0; b < replicates; ++b) {
    if (b % 64 == 0) Rcpp::checkUserInterrupt();
    draws.resample(w);
    for (size_t j = 0; j < k && !rows.whole; ++j)
      discrimination(b, j) = correlation(item_sums(rows, j, w.data()));
    if (!groups) continue;
    outer_group(w, order, tie, fraction, true, upper);
    outer_group(w, order, tie, fraction, false, lower);
    for (size_t i = 0; i < rows.n; ++i) {
      above[i] = w[i] * master[i];
      below[i] = w[i] - above[i];
    }
    const double n_upper = sum_of(upper), n_lower = sum_of(lower), n_above = sum_of(above), n_below = sum_of(below);
    for (size_t j = 0; j < k; ++j) {
      upper_lower(b, j) = (mean_points(rows, j, upper, n_upper) - mean_points(rows, j, lower, n_lower)) / most[j];
      mastery(b, j) = (mean_points(rows, j, above, n_above) - mean_points(rows, j, below, n_below)) / most[j];
    }
  }
  return Rcpp::List::create(Rcpp::Named("discrimination") = discrimination,
                            Rcpp::Named("upper_lower") = upper_lower, Rcpp::Named("mastery_index") = mastery);
}

// points: complete students by counted items; how often each was drawn for each
// replicate is drawn over all n students, of whom row[i] is the i-th complete.
// Sums of squares of each item, of the total, of each rest and, when wanted, of
// every pair: the parts that reliability is made of.
// [[Rcpp::export]]
Rcpp::List bootstrap_spread(const Rcpp::NumericMatrix& points, const std::vector<int>& row, int n, bool pairs,
                            int replicates, double seed) {
  const size_t m = points.nrow(), k = points.ncol();
  std::vector<double> total(m, 0.0), squares(m, 0.0), cross(m * k);
  for (size_t j = 0; j < k; ++j)
    for (size_t i = 0; i < m; ++i) total[i] += points(i, j);
  for (size_t i = 0; i < m; ++i) squares[i] = total[i] * total[i];
  std::vector<double> own(m * k);
  bool graded = false;  // else each item's squares are its points
  for (size_t j = 0; j < k; ++j)
    for (size_t i = 0; i < m; ++i) {
      own[j * m + i] = points(i, j) * points(i, j);
      graded = graded || own[j * m + i] != points(i, j);
      cross[j * m + i] = points(i, j) * total[i];
    }
  Rcpp::NumericMatrix item(replicates, k), with_total(replicates, k);
  Rcpp::NumericVector drawn(replicates), sum(replicates), spread(replicates), apart(pairs ? replicates : 0),
      halves(pairs ? replicates : 0);
  std::vector<double> all(n), w(m), mean(k), wx(m);
  Draws draws(static_cast<uint64_t>(seed));
  for (int b = 0; b < replicates; ++b) {
    if (b % 64 == 0) Rcpp::checkUserInterrupt();
    draws.resample(all);
    double count = 0;
    for (size_t i = 0; i < m; ++i) count += w[i] = all[row[i] - 1];
    const double sum_total = dot(w.data(), total.data(), m);
    drawn[b] = count;
    sum[b] = sum_total;
    spread[b] = dot(w.data(), squares.data(), m) - sum_total * sum_total / count;
    for (size_t j = 0; j < k; ++j) {
      const double sx = dot(w.data(), &points(0, j), m);
      mean[j] = sx / count;
      item(b, j) = (graded ? dot(w.data(), &own[j * m], m) : sx) - sx * sx / count;
      with_total(b, j) = dot(w.data(), &cross[j * m], m) - sx * sum_total / count;
    }
    if (!pairs) continue;
    double square = 0, odd = 0, even = 0, across = 0;
    for (size_t j = 0; j < k; ++j) {
      for (size_t i = 0; i < m; ++i) wx[i] = w[i] * points(i, j);
      (j % 2 ? even : odd) += item(b, j);
      for (size_t l = 0; l < j; ++l) {
        const double c = dot(wx.data(), &points(0, l), m) - count * mean[j] * mean[l];
        square += 2 * c * c;
        if (j % 2 != l % 2) across += c;
        else (j % 2 ? even : odd) += 2 * c;
      }
    }
    apart[b] = square;
    halves[b] = odd > kTiny && even > kTiny ? across / std::sqrt(odd * even) : NA_REAL;
  }
  return Rcpp::List::create(Rcpp::Named("n") = drawn, Rcpp::Named("sum") = sum, Rcpp::Named("total") = spread,
                            Rcpp::Named("item") = item, Rcpp::Named("with_total") = with_total,
                            Rcpp::Named("apart") = apart, Rcpp::Named("halves") = halves);
}

// How often each student is drawn: a column a replicate, the same draws as above.
// [[Rcpp::export]]
Rcpp::IntegerMatrix bootstrap_draws(int n, int replicates, double seed) {
  Rcpp::IntegerMatrix result(n, replicates);
  std::vector<double> w(n);
  Draws draws(static_cast<uint64_t>(seed));
  for (int b = 0; b < replicates; ++b) {
    draws.resample(w);
    for (int i = 0; i < n; ++i) result(i, b) = static_cast<int>(w[i]);
  }
  return result;
}
