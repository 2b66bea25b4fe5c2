// The chance of each sum of items that are independent at a given ability.
#include <Rcpp.h>
#include <algorithm>

// Item by item (Lord & Wingersky 1984): each has so many parts of one size, and each part
// is earned with the item's chance at an ability (a column of `chance`). A row a sum, a
// column an ability.
// [[Rcpp::export]]
Rcpp::NumericMatrix chances_of_sums(Rcpp::IntegerVector size, Rcpp::IntegerVector parts,
                                    Rcpp::NumericMatrix chance) {
  const R_xlen_t items = size.size();
  if (parts.size() != items || chance.nrow() != items)
    Rcpp::stop("chances_of_sums: the items are not as many as their chances");
  R_xlen_t top = 0;
  for (R_xlen_t j = 0; j < items; ++j) top += static_cast<R_xlen_t>(size[j]) * parts[j];
  Rcpp::NumericMatrix sums(top + 1, chance.ncol());
  for (int k = 0; k < chance.ncol(); ++k) {
    double* const sum = &sums(0, k);
    sum[0] = 1;
    R_xlen_t filled = 0;
    for (R_xlen_t j = 0; j < items; ++j) {
      const double p = chance(j, k);
      const R_xlen_t step = size[j];
      for (int part = 0; part < parts[j]; ++part) {
        filled += step;
        for (R_xlen_t s = filled; s >= 0; --s)
          sum[s] = sum[s] * (1 - p) + (s >= step ? sum[s - step] * p : 0);
      }
    }
  }
  return sums;
}
