// Conditional maximum likelihood for the partial credit model: what is expected of each
// category of each item given the total score, and the information (Verhelst, Glas &
// van der Sluis 1984). Only sums and products of positive numbers occur, so that nothing
// is lost where the difference algorithm subtracts.
#include <Rcpp.h>
#include <algorithm>
#include <cmath>
#include <vector>

namespace {

using Poly = std::vector<double>;

Poly times(const Poly& a, const Poly& b) {
  Poly out(a.size() + b.size() - 1, 0.0);
  for (size_t i = 0; i < a.size(); ++i)
    for (size_t k = 0; k < b.size(); ++k) out[i + k] += a[i] * b[k];
  return out;
}

// The sum over u of a[u] * w[u + s].
double along(const Poly& a, const Poly& w, size_t s) {
  double sum = 0;
  for (size_t u = 0; u < a.size() && u + s < w.size(); ++u) sum += a[u] * w[u + s];
  return sum;
}

// The easiness of each item with that of its lowest category, which is 0.
std::vector<Poly> with_lowest(const Rcpp::List& easiness) {
  std::vector<Poly> items;
  for (R_xlen_t j = 0; j < easiness.size(); ++j) {
    const Rcpp::NumericVector a(easiness[j]);
    Poly one(1, 0.0);
    one.insert(one.end(), a.begin(), a.end());
    items.push_back(one);
  }
  return items;
}

}  // namespace

// easiness: for each item the logarithm of the weight of each category above the lowest;
// n: how many students of these items have each total score, from 0 on. Gives the
// logarithm of the conditional likelihood's denominator (loss), how many are expected in
// each category (expected, items one after the other), the information of these
// parameters, and the share of each category at each score (given).
// [[Rcpp::export]]
Rcpp::List conditional_counts(Rcpp::List easiness, Rcpp::NumericVector n) {
  const size_t items = easiness.size();
  std::vector<Poly> own(items);
  std::vector<size_t> first(items + 1, 0);
  double scale = 0; // of the polynomials, each of which is made to sum to 1
  for (size_t j = 0; j < items; ++j) {
    const Rcpp::NumericVector a(easiness[j]);
    double most = 0;
    for (double x : a) most = std::max(most, x);
    Poly& poly = own[j];
    poly.assign(1, std::exp(-most));
    for (double x : a) poly.push_back(std::exp(x - most));
    double sum = 0;
    for (double x : poly) sum += x;
    for (double& x : poly) x /= sum;
    scale += most + std::log(sum);
    first[j + 1] = first[j] + a.size();
  }
  const size_t p = first[items];
  std::vector<Poly> before(items + 1, Poly(1, 1.0)), after(items + 1, Poly(1, 1.0));
  for (size_t j = 0; j < items; ++j) before[j + 1] = times(before[j], own[j]);
  for (size_t j = items; j-- > 0;) after[j] = times(own[j], after[j + 1]);
  const Poly& all = before[items];
  const size_t scores = all.size();
  Poly weight(scores, 0.0);
  double loss = 0;
  for (size_t r = 0; r < scores; ++r) {
    if (n[r] == 0) continue;
    weight[r] = n[r] / all[r];
    loss += n[r] * (std::log(all[r]) + scale);
  }
  // Of each item and score, the share of each category.
  Rcpp::NumericMatrix given(p, scores);
  for (size_t j = 0; j < items; ++j) {
    const Poly rest = times(before[j], after[j + 1]);
    for (size_t k = 1; k < own[j].size(); ++k)
      for (size_t u = 0; u < rest.size(); ++u)
        given(first[j] + k - 1, u + k) = own[j][k] * rest[u] / all[u + k];
  }
  // What stands behind each item, weighted by the students there.
  std::vector<Poly> behind(items, Poly(scores, 0.0));
  for (size_t j = 0; j < items; ++j)
    for (size_t t = 0; t < scores; ++t)
      for (size_t u = 0; u < after[j + 1].size() && t + u < scores; ++u)
        behind[j][t] += weight[t + u] * after[j + 1][u];
  Rcpp::NumericVector expected(p);
  Rcpp::NumericMatrix information(p, p);
  for (size_t i = 0; i < items; ++i) {
    for (size_t k = 1; k < own[i].size(); ++k) {
      const size_t row = first[i] + k - 1;
      expected[row] = own[i][k] * along(before[i], behind[i], k);
      information(row, row) = expected[row];
    }
    Poly between = before[i];
    for (size_t j = i + 1; j < items; ++j) {
      const size_t most = own[i].size() + own[j].size() - 2;
      Poly pairs(most + 1);
      for (size_t s = 2; s <= most; ++s) pairs[s] = along(between, behind[j], s);
      for (size_t k = 1; k < own[i].size(); ++k)
        for (size_t l = 1; l < own[j].size(); ++l) {
          const double both = own[i][k] * own[j][l] * pairs[k + l];
          information(first[i] + k - 1, first[j] + l - 1) = both;
          information(first[j] + l - 1, first[i] + k - 1) = both;
        }
      between = times(between, own[j]);
    }
  }
  for (size_t r = 0; r < scores; ++r) {
    if (n[r] == 0) continue;
    const double* const share = &given(0, r);
    for (size_t k = 0; k < p; ++k) {
      const double weighted = n[r] * share[k];
      if (weighted == 0) continue;
      for (size_t l = 0; l < p; ++l) information(l, k) -= weighted * share[l];
    }
  }
  return Rcpp::List::create(
    Rcpp::_["loss"] = loss, Rcpp::_["expected"] = expected,
    Rcpp::_["information"] = information, Rcpp::_["given"] = given);
}

// Of each pattern of items, score and item how many are in each category: `category` is
// students by items, -1 where an item was not given. Rows of a pattern stand together, as
// `from` and `to` (from 1) say; only its `items` (from 1) are counted.
// [[Rcpp::export]]
Rcpp::List category_counts(Rcpp::IntegerMatrix category, Rcpp::IntegerVector rows,
                           Rcpp::IntegerVector items, Rcpp::IntegerVector most) {
  const int k = items.size();
  int top = 0;
  for (int j = 0; j < k; ++j) top += most[items[j] - 1];
  Rcpp::NumericVector n(top + 1);
  Rcpp::List counts(k);
  std::vector<int> score(rows.size(), 0);
  for (int j = 0; j < k; ++j) {
    const int* column = &category(0, items[j] - 1);
    for (R_xlen_t i = 0; i < rows.size(); ++i) score[i] += column[rows[i] - 1];
  }
  for (int one : score) ++n[one];
  for (int j = 0; j < k; ++j) {
    const int* column = &category(0, items[j] - 1);
    Rcpp::NumericMatrix of(most[items[j] - 1] + 1, top + 1);
    for (R_xlen_t i = 0; i < rows.size(); ++i) ++of(column[rows[i] - 1], score[i]);
    counts[j] = of;
  }
  return Rcpp::List::create(Rcpp::_["n"] = n, Rcpp::_["counts"] = counts, Rcpp::_["score"] = score);
}

// The places of scores from 0 on by weighted likelihood (Warm 1989): where the score, with
// a weight against the bias, is what is expected. That falls along the scale, so halving
// finds it. The second row is the information there.
// [[Rcpp::export]]
Rcpp::NumericMatrix weighted_places(Rcpp::List easiness) {
  const std::vector<Poly> items = with_lowest(easiness);
  size_t top = 0;
  for (const Poly& item : items) top += item.size() - 1;
  struct Sums { double mean, var, third; };
  const auto sums_at = [&items](double place) {
    Sums sums{0, 0, 0};
    for (const Poly& item : items) {
      double most = item[0];
      for (size_t k = 0; k < item.size(); ++k) most = std::max(most, item[k] + k * place);
      double all = 0, mean = 0;
      for (size_t k = 0; k < item.size(); ++k) {
        const double p = std::exp(item[k] + k * place - most);
        all += p;
        mean += k * p;
      }
      mean /= all;
      double var = 0, third = 0;
      for (size_t k = 0; k < item.size(); ++k) {
        const double p = std::exp(item[k] + k * place - most) / all, away = k - mean;
        var += p * away * away;
        third += p * away * away * away;
      }
      sums.mean += mean;
      sums.var += var;
      sums.third += third;
    }
    return sums;
  };
  Rcpp::NumericMatrix out(2, top + 1);
  for (size_t r = 0; r <= top; ++r) {
    double low = -40, high = 40;
    for (int round = 0; round < 60; ++round) {
      const double middle = (low + high) / 2;
      const Sums sums = sums_at(middle);
      const double excess = r - sums.mean + sums.third / (2 * std::max(sums.var, 1e-300));
      (excess > 0 ? low : high) = middle;
    }
    out(0, r) = (low + high) / 2;
    out(1, r) = sums_at(out(0, r)).var;
  }
  return out;
}

// The chance of each score from 0 on at each place, a row a place.
// [[Rcpp::export]]
Rcpp::NumericMatrix score_chances(Rcpp::List easiness, Rcpp::NumericVector places) {
  const std::vector<Poly> items = with_lowest(easiness);
  size_t top = 0;
  for (const Poly& item : items) top += item.size() - 1;
  Rcpp::NumericMatrix out(places.size(), top + 1);
  for (R_xlen_t i = 0; i < places.size(); ++i) {
    Poly all(1, 1.0);
    for (const Poly& item : items) {
      double most = item[0];
      for (size_t k = 0; k < item.size(); ++k)
        most = std::max(most, item[k] + k * places[i]);
      Poly own(item.size());
      double sum = 0;
      for (size_t k = 0; k < item.size(); ++k)
        sum += own[k] = std::exp(item[k] + k * places[i] - most);
      for (double& x : own) x /= sum;
      all = times(all, own);
    }
    for (size_t r = 0; r <= top; ++r) out(i, r) = all[r];
  }
  return out;
}

// One step of the EM algorithm for the generalised partial credit model by marginal
// likelihood (Bock & Aitkin 1981; Muraki 1992). category: students by items, -1 where an
// item was not given; easiness: as above, slope: of each item; places: of the quadrature,
// logw: the logarithms of their weights. Gives the logarithm of the likelihood and, after
// two steps of Newton's method for each item, easiness and slope.
namespace {

// The logarithms of the chances of each category, a place after the other.
std::vector<Poly> log_chances(const Rcpp::List& easiness, const Rcpp::NumericVector& slope,
                              const Rcpp::NumericVector& places) {
  std::vector<Poly> out(easiness.size());
  for (R_xlen_t j = 0; j < easiness.size(); ++j) {
    const Rcpp::NumericVector a(easiness[j]);
    const size_t k = a.size() + 1;
    out[j].assign(k * places.size(), 0.0);
    for (R_xlen_t q = 0; q < places.size(); ++q) {
      double most = 0;
      for (size_t c = 1; c < k; ++c) {
        const double x = a[c - 1] + c * slope[j] * places[q];
        out[j][c * places.size() + q] = x;
        most = std::max(most, x);
      }
      double sum = 0;
      for (size_t c = 0; c < k; ++c) sum += std::exp(out[j][c * places.size() + q] - most);
      const double all = most + std::log(sum);
      for (size_t c = 0; c < k; ++c) out[j][c * places.size() + q] -= all;
    }
  }
  return out;
}

// What is known of a student's place from the answers; gives the logarithm of their chance.
double posterior(const Rcpp::IntegerMatrix& category, R_xlen_t i,
                 const std::vector<Poly>& chances, const Rcpp::NumericVector& logw,
                 Poly& post) {
  const size_t q = logw.size();
  std::copy(logw.begin(), logw.end(), post.begin());
  for (size_t j = 0; j < chances.size(); ++j) {
    const int c = category(i, j);
    if (c < 0) continue;
    const double* const own = &chances[j][c * q];
    for (size_t k = 0; k < q; ++k) post[k] += own[k];
  }
  const double most = *std::max_element(post.begin(), post.end());
  double sum = 0;
  for (double& x : post) sum += x = std::exp(x - most);
  for (double& x : post) x /= sum;
  return most + std::log(sum);
}

// Solves the symmetric system a x = b in place of b.
void solve_small(std::vector<Poly>& a, Poly& b) {
  const size_t n = b.size();
  for (size_t i = 0; i < n; ++i) {
    a[i][i] += 1e-9;
    for (size_t r = i + 1; r < n; ++r) {
      const double f = a[r][i] / a[i][i];
      for (size_t c = i; c < n; ++c) a[r][c] -= f * a[i][c];
      b[r] -= f * b[i];
    }
  }
  for (size_t i = n; i-- > 0;) {
    for (size_t c = i + 1; c < n; ++c) b[i] -= a[i][c] * b[c];
    b[i] /= a[i][i];
  }
}

}  // namespace

// [[Rcpp::export]]
Rcpp::List marginal_step(Rcpp::IntegerMatrix category, Rcpp::List easiness,
                         Rcpp::NumericVector slope, Rcpp::NumericVector places,
                         Rcpp::NumericVector logw) {
  const size_t q = places.size();
  const std::vector<Poly> chances = log_chances(easiness, slope, places);
  std::vector<Poly> counts(chances.size());
  for (size_t j = 0; j < chances.size(); ++j) counts[j].assign(chances[j].size(), 0.0);
  Poly post(q);
  double loglik = 0;
  for (R_xlen_t i = 0; i < category.nrow(); ++i) {
    loglik += posterior(category, i, chances, logw, post);
    for (size_t j = 0; j < chances.size(); ++j) {
      const int c = category(i, j);
      if (c < 0) continue;
      double* const own = &counts[j][c * q];
      for (size_t k = 0; k < q; ++k) own[k] += post[k];
    }
  }
  Rcpp::List after(easiness.size());
  Rcpp::NumericVector slopes(slope.size());
  for (size_t j = 0; j < chances.size(); ++j) {
    Rcpp::NumericVector a = Rcpp::clone(Rcpp::NumericVector(easiness[j]));
    double s = slope[j];
    const size_t k = a.size() + 1;
    for (int round = 0; round < 2; ++round) {
      Poly gradient(k, 0.0);
      std::vector<Poly> information(k, Poly(k, 0.0));
      for (size_t t = 0; t < q; ++t) {
        double n = 0, most = 0, sum = 0;
        Poly p(k);
        for (size_t c = 0; c < k; ++c) {
          n += counts[j][c * q + t];
          p[c] = c ? a[c - 1] + c * s * places[t] : 0;
          most = std::max(most, p[c]);
        }
        if (n < 1e-12) continue;
        for (double& x : p) sum += x = std::exp(x - most);
        double mean = 0, square = 0;
        for (size_t c = 0; c < k; ++c) {
          p[c] /= sum;
          mean += c * p[c];
          square += c * c * p[c];
        }
        for (size_t c = 0; c < k; ++c) {
          const double away = counts[j][c * q + t] - n * p[c];
          gradient[0] += c * places[t] * away;
          if (c) gradient[c] += away;
        }
        information[0][0] += n * places[t] * places[t] * (square - mean * mean);
        for (size_t c = 1; c < k; ++c) {
          const double with = n * places[t] * p[c] * (c - mean);
          information[0][c] += with;
          information[c][0] += with;
          for (size_t d = 1; d < k; ++d)
            information[c][d] += n * ((c == d ? p[c] : 0) - p[c] * p[d]);
        }
      }
      solve_small(information, gradient);
      for (size_t c = 0; c < k; ++c) gradient[c] = std::max(-1.0, std::min(1.0, gradient[c]));
      s = std::max(-10.0, std::min(10.0, s + gradient[0]));
      for (size_t c = 1; c < k; ++c) a[c - 1] += gradient[c];
    }
    slopes[j] = s;
    after[j] = a;
  }
  return Rcpp::List::create(
    Rcpp::_["loglik"] = loglik, Rcpp::_["easiness"] = after, Rcpp::_["slope"] = slopes);
}

// The information of slope and easiness, items one after the other, from each student's
// share in the likelihood's slope.
// [[Rcpp::export]]
Rcpp::NumericMatrix marginal_information(Rcpp::IntegerMatrix category, Rcpp::List easiness,
                                         Rcpp::NumericVector slope,
                                         Rcpp::NumericVector places,
                                         Rcpp::NumericVector logw) {
  const size_t q = places.size();
  const std::vector<Poly> chances = log_chances(easiness, slope, places);
  std::vector<size_t> first(chances.size() + 1, 0);
  for (size_t j = 0; j < chances.size(); ++j)
    first[j + 1] = first[j] + chances[j].size() / q;
  const size_t p = first.back();
  Rcpp::NumericMatrix out(p, p);
  Poly post(q), own(p);
  for (R_xlen_t i = 0; i < category.nrow(); ++i) {
    posterior(category, i, chances, logw, post);
    std::fill(own.begin(), own.end(), 0.0);
    for (size_t j = 0; j < chances.size(); ++j) {
      const int seen = category(i, j);
      if (seen < 0) continue;
      const size_t k = first[j + 1] - first[j];
      for (size_t t = 0; t < q; ++t) {
        double mean = 0;
        for (size_t c = 1; c < k; ++c) {
          const double chance = std::exp(chances[j][c * q + t]);
          mean += c * chance;
          own[first[j] + c] -= post[t] * chance;
        }
        own[first[j]] += post[t] * places[t] * (seen - mean);
      }
      if (seen > 0) own[first[j] + seen] += 1;
    }
    for (size_t r = 0; r < p; ++r) {
      if (own[r] == 0) continue;
      for (size_t c = 0; c < p; ++c) out(c, r) += own[c] * own[r];
    }
  }
  return out;
}

// The places of students by weighted likelihood where items have slopes, and the
// information there: a row a student.
// [[Rcpp::export]]
Rcpp::NumericMatrix weighted_places_each(Rcpp::IntegerMatrix category, Rcpp::List easiness,
                                         Rcpp::NumericVector slope) {
  const std::vector<Poly> items = with_lowest(easiness);
  Rcpp::NumericMatrix out(category.nrow(), 2);
  for (R_xlen_t i = 0; i < category.nrow(); ++i) {
    double low = -12, high = 12, information = 0;
    for (int round = 0; round < 40; ++round) {
      const double place = (low + high) / 2;
      double excess = 0, third = 0;
      information = 0;
      for (size_t j = 0; j < items.size(); ++j) {
        const int seen = category(i, j);
        if (seen < 0) continue;
        const Poly& item = items[j];
        double most = 0, all = 0, mean = 0;
        for (size_t k = 0; k < item.size(); ++k)
          most = std::max(most, item[k] + k * slope[j] * place);
        Poly p(item.size());
        for (size_t k = 0; k < item.size(); ++k) {
          all += p[k] = std::exp(item[k] + k * slope[j] * place - most);
          mean += k * p[k];
        }
        mean /= all;
        double var = 0, skew = 0;
        for (size_t k = 0; k < item.size(); ++k) {
          const double away = k - mean;
          var += p[k] / all * away * away;
          skew += p[k] / all * away * away * away;
        }
        excess += slope[j] * (seen - mean);
        information += slope[j] * slope[j] * var;
        third += slope[j] * slope[j] * slope[j] * skew;
      }
      excess += third / (2 * std::max(information, 1e-300));
      (excess > 0 ? low : high) = place;
    }
    out(i, 0) = (low + high) / 2;
    out(i, 1) = information;
  }
  return out;
}

// Given the score, the chance that a pattern of answers is as unlikely as the one seen or
// more so: exactly, by the distribution of its logarithm in bins as wide as `width`.
// easiness: as above; score, logs: of each student the score and the sum of the easiness
// of his categories.
// [[Rcpp::export]]
Rcpp::NumericVector pattern_p(Rcpp::List easiness, Rcpp::IntegerVector score,
                              Rcpp::NumericVector logs, double width) {
  const R_xlen_t items = easiness.size();
  std::vector<Poly> own(items);
  std::vector<std::vector<int>> bins(items);
  int low = 0, high = 0, top = 0;
  for (R_xlen_t j = 0; j < items; ++j) {
    const Rcpp::NumericVector a(easiness[j]);
    own[j].assign(1, 1.0);
    bins[j].assign(1, 0);
    int least = 0, most = 0;
    for (double x : a) {
      own[j].push_back(std::exp(x));
      bins[j].push_back(static_cast<int>(std::lround(x / width)));
      least = std::min(least, bins[j].back());
      most = std::max(most, bins[j].back());
    }
    low += least;
    high += most;
    top += a.size();
  }
  const size_t wide = high - low + 1;
  std::vector<Poly> at(top + 1, Poly(wide, 0.0));
  at[0][-low] = 1;
  int reached = 0;
  for (R_xlen_t j = 0; j < items; ++j) {
    const int k = own[j].size();
    std::vector<Poly> next(top + 1);
    double all = 0;
    for (double x : own[j]) all += x;
    for (int r = 0; r <= reached + k - 1; ++r) {
      next[r].assign(wide, 0.0);
      for (int c = 0; c < k; ++c) {
        if (r - c < 0 || r - c > reached) continue;
        const Poly& from = at[r - c];
        const int move = bins[j][c];
        const double weight = own[j][c] / all;
        const long first = std::max<long>(0, -move), last = std::min<long>(wide, wide - move);
        for (long b = first; b < last; ++b)
          if (from[b] != 0) next[r][b + move] += weight * from[b];
      }
    }
    reached += k - 1;
    for (int r = 0; r <= reached; ++r) at[r].swap(next[r]);
  }
  Rcpp::NumericVector p(score.size());
  for (R_xlen_t i = 0; i < score.size(); ++i) {
    const Poly& one = at[score[i]];
    const double bin = logs[i] / width - low + items / 2.0; // what rounding can add up to
    double below = 0, all = 0;
    for (size_t b = 0; b < wide; ++b) {
      all += one[b];
      if (b <= bin) below += one[b];
    }
    p[i] = all > 0 ? below / all : 1;
  }
  return p;
}

// The points expected at each place on items of the partial credit model. values: of each
// item the points of each category.
// [[Rcpp::export]]
Rcpp::NumericVector expected_points(Rcpp::List easiness, Rcpp::List values,
                                    Rcpp::NumericVector places) {
  Rcpp::NumericVector out(places.size());
  for (R_xlen_t j = 0; j < easiness.size(); ++j) {
    const Rcpp::NumericVector a(easiness[j]), worth(values[j]);
    const int k = a.size() + 1;
    Poly p(k);
    for (R_xlen_t i = 0; i < places.size(); ++i) {
      double most = 0, all = 0, sum = 0;
      for (int c = 1; c < k; ++c) most = std::max(most, a[c - 1] + c * places[i]);
      for (int c = 0; c < k; ++c) {
        p[c] = std::exp((c ? a[c - 1] + c * places[i] : 0) - most);
        all += p[c];
        sum += p[c] * worth[c];
      }
      out[i] += sum / all;
    }
  }
  return out;
}
