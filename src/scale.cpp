// Conditional maximum likelihood for the partial credit model: what is expected of each
// category of each item given the total score, and the information (Verhelst, Glas &
// van der Sluis 1984). Only sums and products of positive numbers occur, so that nothing
// is lost where the difference algorithm subtracts.
#include <Rcpp.h>
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
  std::vector<Poly> items;
  size_t top = 0;
  for (R_xlen_t j = 0; j < easiness.size(); ++j) {
    const Rcpp::NumericVector a(easiness[j]);
    Poly one(1, 0.0);
    one.insert(one.end(), a.begin(), a.end());
    top += a.size();
    items.push_back(one);
  }
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
  std::vector<Poly> items;
  size_t top = 0;
  for (R_xlen_t j = 0; j < easiness.size(); ++j) {
    const Rcpp::NumericVector a(easiness[j]);
    Poly one(1, 0.0);
    one.insert(one.end(), a.begin(), a.end());
    top += a.size();
    items.push_back(one);
  }
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
