// What the counts of a tally come to for each answer of an item in each group:
// sums over the score bins, so that the figures need not look at every bin.
#include <Rcpp.h>
#include <cmath>
#include <cstdint>
#include <unordered_map>
#include <utility>
#include <vector>

namespace {

// Gives each pair of group and cell that occurs a row, in order of appearance.
class RowIndex {
 public:
  RowIndex(int64_t n_groups, int64_t n_cells) : n_cells_(n_cells) {
    if (n_groups * n_cells <= kDirect) direct_.assign(n_groups * n_cells, -1);
  }
  int& at(int group, int cell) {
    const int64_t key = group * n_cells_ + cell;
    if (!direct_.empty()) return direct_[key];
    return hashed_.emplace(key, -1).first->second;
  }

 private:
  static const int64_t kDirect = 1 << 22;
  int64_t n_cells_;
  std::vector<int> direct_;
  std::unordered_map<int64_t, int> hashed_;
};

struct Row {
  int group, item, cell;
  double count, n_rest, rest, rest_squares, n_whole, without, without_squares;
};

// The mean of a group of students on an item; first its sum.
struct Mean {
  double n = 0, sum = 0;
  void add(double count, double value) { n += count, sum += count * value; }
  double value() const { return n > 0 ? sum / n : 0; }
};

template <typename Field>
Rcpp::NumericVector column(const std::vector<Row>& rows, Field field) {
  Rcpp::NumericVector values(rows.size());
  for (size_t r = 0; r < rows.size(); ++r) values[r] = rows[r].*field;
  return values;
}

}  // namespace

// bin, item, code, count: of the tally; offset, points: where an item's cells
// start and what each earns (NA for none); most: of each item; group, earned,
// open: of each bin; whole: bins whose students have a value on every counted
// item; weights: columns along the bins. Sums of the rest score (its share of
// the rest's points) and of the points without the item are taken about their
// mean for the group and item, so that nothing is lost to rounding.
// [[Rcpp::export]]
Rcpp::List sum_cells(const Rcpp::IntegerVector& bin, const Rcpp::IntegerVector& item,
                     const Rcpp::IntegerVector& code, const Rcpp::NumericVector& count,
                     const Rcpp::IntegerVector& offset, const Rcpp::NumericVector& points,
                     const Rcpp::NumericVector& most, const Rcpp::IntegerVector& group,
                     const Rcpp::NumericVector& earned, const Rcpp::NumericVector& open,
                     const Rcpp::LogicalVector& whole, const Rcpp::NumericMatrix& weights, int n_groups) {
  const R_xlen_t n = bin.size();
  const int n_items = most.size(), n_weights = weights.ncol();
  std::vector<char> valued(points.size());
  for (R_xlen_t c = 0; c < points.size(); ++c) valued[c] = !Rcpp::NumericVector::is_na(points[c]);
  std::vector<double> weight(n_weights * group.size());  // a bin after the other
  for (int w = 0; w < n_weights; ++w)
    for (R_xlen_t b = 0; b < group.size(); ++b) weight[b * n_weights + w] = weights(b, w);
  std::vector<Row> rows;
  std::vector<double> weighted;  // a row after the other
  std::vector<int> row(n);
  std::vector<double> rest(n);   // NaN where nothing else was open
  std::vector<Mean> rest_mean(n_groups * n_items), without_mean(n_groups * n_items);
  RowIndex index(n_groups, points.size());
  for (R_xlen_t i = 0; i < n; ++i) {
    const int b = bin[i] - 1, j = item[i] - 1, cell = offset[j] + code[i] - 1;
    const int key = (group[b] - 1) * n_items + j;
    int& r = index.at(group[b] - 1, cell);
    if (r < 0) {
      r = rows.size();
      rows.push_back({group[b], item[i], cell + 1, 0, 0, 0, 0, 0, 0, 0});
      weighted.resize(weighted.size() + n_weights, 0.0);
    }
    row[i] = r;
    rows[r].count += count[i];
    for (int w = 0; w < n_weights; ++w) weighted[r * n_weights + w] += count[i] * weight[b * n_weights + w];
    const double own = valued[cell] ? points[cell] : 0, rest_open = open[b] - (valued[cell] ? most[j] : 0);
    rest[i] = rest_open > 1e-9 ? (earned[b] - own) / rest_open : NAN;
    if (rest_open > 1e-9) rest_mean[key].add(count[i], rest[i]);
    if (whole[b] && valued[cell]) without_mean[key].add(count[i], earned[b] - own);
  }
  for (R_xlen_t i = 0; i < n; ++i) {
    const int b = bin[i] - 1, j = item[i] - 1;
    const int key = (group[b] - 1) * n_items + j;
    Row& r = rows[row[i]];
    if (!std::isnan(rest[i])) {
      const double apart = rest[i] - rest_mean[key].value();
      r.n_rest += count[i];
      r.rest += count[i] * apart;
      r.rest_squares += count[i] * apart * apart;
    }
    if (whole[b] && valued[r.cell - 1]) {
      const double apart = earned[b] - points[r.cell - 1] - without_mean[key].value();
      r.n_whole += count[i];
      r.without += count[i] * apart;
      r.without_squares += count[i] * apart * apart;
    }
  }
  Rcpp::IntegerVector row_group(rows.size()), row_item(rows.size()), row_cell(rows.size());
  Rcpp::NumericVector mean_rest(rows.size());
  Rcpp::NumericMatrix row_weights(rows.size(), n_weights);
  for (size_t r = 0; r < rows.size(); ++r) {
    row_group[r] = rows[r].group;
    row_item[r] = rows[r].item;
    row_cell[r] = rows[r].cell;
    mean_rest[r] = rest_mean[(rows[r].group - 1) * n_items + rows[r].item - 1].value();
    for (int w = 0; w < n_weights; ++w) row_weights(r, w) = weighted[r * n_weights + w];
  }
  return Rcpp::List::create(
      Rcpp::_["group"] = row_group, Rcpp::_["item"] = row_item, Rcpp::_["cell"] = row_cell,
      Rcpp::_["count"] = column(rows, &Row::count), Rcpp::_["n_rest"] = column(rows, &Row::n_rest),
      Rcpp::_["rest"] = column(rows, &Row::rest), Rcpp::_["rest_squares"] = column(rows, &Row::rest_squares),
      Rcpp::_["mean_rest"] = mean_rest, Rcpp::_["n_whole"] = column(rows, &Row::n_whole),
      Rcpp::_["without"] = column(rows, &Row::without),
      Rcpp::_["without_squares"] = column(rows, &Row::without_squares), Rcpp::_["weighted"] = row_weights);
}

// Sums of the columns of a matrix by a key of 1..n.
// [[Rcpp::export]]
Rcpp::NumericMatrix sum_columns(const Rcpp::NumericMatrix& columns, const Rcpp::IntegerVector& key, int n) {
  const int n_columns = columns.ncol(), rows = columns.nrow();
  if (key.size() != rows) Rcpp::stop("sum_columns: the columns are not as long as the key");
  for (int k : key)
    if (k < 1 || k > n) Rcpp::stop("sum_columns: a key outside 1..n");
  Rcpp::NumericMatrix sums(n, n_columns);
  for (int c = 0; c < n_columns && rows; ++c) {
    const double* column = &columns(0, c);
    double* sum = &sums(0, c);
    for (int i = 0; i < rows; ++i) sum[key[i] - 1] += column[i];
  }
  return sums;
}
