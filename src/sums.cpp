// Sums of columns by a key of 1..n: what every figure makes of the counts.
#include <Rcpp.h>

// [[Rcpp::export]]
Rcpp::NumericMatrix sum_columns(const Rcpp::List& columns, const Rcpp::IntegerVector& key, int n) {
  const int n_columns = columns.size();
  const R_xlen_t rows = key.size();
  Rcpp::NumericMatrix sums(n, n_columns);
  for (int c = 0; c < n_columns; ++c) {
    const Rcpp::NumericVector column = columns[c];
    if (column.size() != rows) Rcpp::stop("sum_columns: a column is not as long as the key");
    double* sum = n ? &sums(0, c) : nullptr;
    for (R_xlen_t i = 0; i < rows; ++i) {
      if (key[i] < 1 || key[i] > n) Rcpp::stop("sum_columns: a key outside 1..n");
      sum[key[i] - 1] += column[i];
    }
  }
  return sums;
}
