// One look over the bytes of a text file before it is read as a table: is it
// text at all, in which encoding, and how do its lines divide into cells.
#include <Rcpp.h>
#include <algorithm>
#include <cstdint>
#include <cstdio>
#include <cstring>
#include <memory>
#include <vector>

namespace {

const int kLooked = 60; // records whose separators are counted one by one
const size_t kHop = 1 << 14; // bytes of a line that nobody needs to measure
const unsigned char kSeparators[] = {',', ';', '\t', '|'};

// Follows UTF-8 byte by byte; false where a byte cannot stand.
class Utf8 {
 public:
  bool accept(unsigned char byte) {
    if (left_ == 0) return begin(byte);
    if (byte < low_ || byte > high_) return false;
    low_ = 0x80;
    high_ = 0xBF;
    --left_;
    return true;
  }
  bool whole() const { return left_ == 0; }

 private:
  bool begin(unsigned char byte) {
    if (byte < 0x80) return true;
    low_ = 0x80;
    high_ = 0xBF;
    if (byte >= 0xC2 && byte <= 0xDF) left_ = 1;
    else if (byte >= 0xE0 && byte <= 0xEF) left_ = 2;
    else if (byte >= 0xF0 && byte <= 0xF4) left_ = 3;
    else return false;
    if (byte == 0xE0) low_ = 0xA0; // no longer form than needed
    if (byte == 0xED) high_ = 0x9F; // no surrogates
    if (byte == 0xF0) low_ = 0x90;
    if (byte == 0xF4) high_ = 0x8F; // no more than there is
    return true;
  }
  int left_ = 0;
  unsigned char low_ = 0x80, high_ = 0xBF;
};

// Counts separators record by record; a quoted cell may hold line ends.
class Records {
 public:
  void take(unsigned char byte) {
    if (byte == '\n' || (last_ == '\r' && byte != '\n')) ++line_;
    if (inside_) {
      if (byte == '"') inside_ = false, closed_ = true;
    } else if (byte == '"' && (at_start_ || closed_)) {
      inside_ = true;
      if (at_start_) opened_ = line_;
    } else {
      plain(byte);
    }
    if (byte != '"') closed_ = false;
    last_ = byte;
  }
  void finish() { if (!fresh_) end_record(); }
  double unclosed() const { return inside_ ? opened_ : NA_REAL; }
  Rcpp::IntegerMatrix looked() const {
    int n = looked_.size() / 4;
    Rcpp::IntegerMatrix out(n, 4);
    for (int i = 0; i < n; ++i)
      for (int k = 0; k < 4; ++k) out(i, k) = looked_[4 * i + k];
    return out;
  }
  Rcpp::IntegerVector most() const { return Rcpp::IntegerVector(most_, most_ + 4); }

 private:
  void plain(unsigned char byte) {
    at_start_ = false;
    if (byte == '\n' || byte == '\r') {
      if (!(byte == '\n' && last_ == '\r')) end_record();
      at_start_ = true;
      return;
    }
    fresh_ = false;
    for (int k = 0; k < 4; ++k)
      if (byte == kSeparators[k]) ++count_[k], at_start_ = true;
  }
  void end_record() {
    for (int k = 0; k < 4; ++k) {
      most_[k] = std::max(most_[k], count_[k]);
      if (looked_.size() < 4 * kLooked && !fresh_) looked_.push_back(count_[k]);
    }
    std::fill(count_, count_ + 4, 0);
    fresh_ = true;
  }
  std::vector<int> looked_;
  int count_[4] = {0, 0, 0, 0}, most_[4] = {0, 0, 0, 0};
  bool inside_ = false, closed_ = false, at_start_ = true, fresh_ = true;
  double line_ = 1, opened_ = 1;
  unsigned char last_ = 0;
};

}  // namespace

namespace {

// What there is to find in bytes that need no reading record by record.
struct Found {
  double zeros = 0, first_zero = NA_REAL, first_bad = NA_REAL;
  double breaks = 0, returns = 0; // bytes that are \\n, that are \\r
  double line = 0, longest = 0; // bytes of this line so far, of the longest
  bool apostrophe = false, quote = false, doubled = false;

  // The longest of those that are longer than a hop: from one hop to the next nobody
  // needs to know where each begins.
  void measure_lines(const unsigned char* at, const unsigned char* const end) {
    while (at < end) {
      if (line > 0) {
        const void* found = std::memchr(at, '\n', end - at);
        const unsigned char* const to = found ? static_cast<const unsigned char*>(found) : end;
        line += to - at;
        longest = std::max(longest, line);
        if (!found) return;
        line = 0;
        at = to + 1;
        continue;
      }
      const unsigned char* const hop = at + std::min<size_t>(kHop, end - at);
      const unsigned char* last = hop;
      while (last > at && last[-1] != '\n') --last;
      line = hop - last;
      at = hop;
    }
  }
};

bool ends_cell(unsigned char byte) {
  return byte == '\n' || byte == '\r' || std::find(kSeparators, kSeparators + 4, byte) != kSeparators + 4;
}

// Doubled quotes within a cell; the two of an empty cell in quotes are none.
// The last bytes of a block are looked at again before those of the next.
class Quotes {
 public:
  void take(const unsigned char* begin, size_t n, Found& found) {
    if (n > 3 && !std::memchr(begin, '"', n) && !std::memchr(window_.data(), '"', window_.size())) {
      window_.assign(begin + n - 3, begin + n);
      return;
    }
    window_.insert(window_.end(), begin, begin + n);
    look(found);
    window_.erase(window_.begin(), window_.end() - std::min<size_t>(3, window_.size()));
  }
  void finish(Found& found) {
    window_.push_back('\n');
    look(found);
  }

 private:
  void look(Found& found) {
    const unsigned char* at = window_.data() + 1;
    const unsigned char* end = window_.data() + window_.size();
    while (at < end && (at = static_cast<const unsigned char*>(std::memchr(at, '"', end - at)))) {
      found.quote = true;
      if (at + 2 >= end || found.doubled) return;
      if (at[1] == '"') {
        found.doubled = !ends_cell(at[-1]) || !ends_cell(at[2]);
        ++at;
      }
      ++at;
    }
  }
  std::vector<unsigned char> window_ = {'\n'};
};

// Eight at a time: of each that is the byte the lowest bit is set, and these bits add up
// for as long as a byte can hold them.
double count_bytes(const unsigned char* begin, size_t n, unsigned char byte) {
  const uint64_t ones = 0x0101010101010101ULL, low = 0x7F7F7F7F7F7F7F7FULL;
  double count = 0;
  size_t i = 0;
  while (i + 8 <= n) {
    uint64_t sums = 0;
    for (int k = 0; k < 255 && i + 8 <= n; ++k, i += 8) {
      uint64_t eight;
      std::memcpy(&eight, begin + i, 8);
      eight ^= byte * ones;
      sums += ~(((eight & low) + low) | eight | low) >> 7;
    }
    for (; sums; sums >>= 8) count += sums & 0xFF;
  }
  return count + std::count(begin + i, begin + n, byte);
}

// Eight plain bytes at a time: ASCII and no zero among them; only others are
// followed one by one.
void look_at_bytes(const unsigned char* begin, size_t n, double position, Utf8& utf8, Found& found) {
  size_t i = 0;
  while (i < n) {
    uint64_t eight;
    if (utf8.whole() && i + 8 <= n) {
      std::memcpy(&eight, begin + i, 8);
      const uint64_t zero = (eight - 0x0101010101010101ULL) & ~eight;
      if (!((eight | zero) & 0x8080808080808080ULL)) {
        i += 8;
        continue;
      }
    }
    if (begin[i] == 0 && ++found.zeros == 1) found.first_zero = position + i + 1;
    if (ISNA(found.first_bad) && !utf8.accept(begin[i])) found.first_bad = position + i + 1;
    ++i;
  }
}

}  // namespace

// `whole`: divide all of it into records, not only its beginning.
// [[Rcpp::export]]
Rcpp::List scan_text(std::string path, bool whole) {
  std::unique_ptr<std::FILE, int (*)(std::FILE*)> file(std::fopen(path.c_str(), "rb"), std::fclose);
  if (!file) Rcpp::stop("cannot open the file");
  std::vector<unsigned char> block(1 << 18);
  Records records;
  Utf8 utf8;
  Found found;
  Quotes quotes;
  double position = 0;
  while (size_t n = std::fread(block.data(), 1, block.size(), file.get())) {
    look_at_bytes(block.data(), n, position, utf8, found);
    found.apostrophe = found.apostrophe || std::memchr(block.data(), '\'', n);
    if (!found.doubled) quotes.take(block.data(), n, found);
    found.returns += count_bytes(block.data(), n, '\r');
    found.breaks += count_bytes(block.data(), n, '\n');
    found.measure_lines(block.data(), block.data() + n);
    if (whole || position == 0) {
      size_t counted = whole ? n : std::min<size_t>(n, 1 << 15);
      for (size_t i = 0; i < counted; ++i) records.take(block[i]);
    }
    position += n;
  }
  if (ISNA(found.first_bad) && !utf8.whole()) found.first_bad = position;
  if (!found.doubled) quotes.finish(found);
  records.finish();
  return Rcpp::List::create(
    Rcpp::_["bytes"] = position, Rcpp::_["zeros"] = found.zeros, Rcpp::_["first_zero"] = found.first_zero,
    Rcpp::_["first_bad"] = found.first_bad, Rcpp::_["quoted"] = found.quote, Rcpp::_["doubled"] = found.doubled,
    Rcpp::_["apostrophe"] = found.apostrophe, Rcpp::_["breaks"] = found.breaks, Rcpp::_["returns"] = found.returns,
    Rcpp::_["unclosed"] = whole ? records.unclosed() : NA_REAL, Rcpp::_["separators"] = records.looked(),
    Rcpp::_["most"] = records.most(), Rcpp::_["longest"] = std::max(found.longest, found.line));
}

// Asks R for room once, while its heap is still small: without it R collects
// garbage again and again among millions of cells. Nothing is touched or kept.
// [[Rcpp::export]]
void make_room(double bytes) {
  Rcpp::Shield<SEXP> room(Rf_allocVector(RAWSXP, static_cast<R_xlen_t>(bytes)));
}

// Copies a text behind a first line of its own: without a byte order mark and with one
// kind of line end. Gives the number of quotation marks, or -1 where it could not be
// written; a large file is never in memory.
// [[Rcpp::export]]
double copy_text(std::string from, std::string to, std::string first) {
  using handle = std::unique_ptr<std::FILE, int (*)(std::FILE*)>;
  handle in(std::fopen(from.c_str(), "rb"), std::fclose);
  if (!in) Rcpp::stop("cannot open the file");
  std::FILE* out = std::fopen(to.c_str(), "wb");
  if (!out) return -1;
  first += '\n';
  bool sound = std::fwrite(first.data(), 1, first.size(), out) == first.size();
  std::vector<unsigned char> block(1 << 18), lines;
  lines.reserve(block.size() + 1);
  double quotes = 0;
  bool at_start = true, returned = false;
  while (const std::size_t n = std::fread(block.data(), 1, block.size(), in.get())) {
    lines.clear();
    const bool marked = at_start && n >= 3 && block[0] == 0xEF && block[1] == 0xBB && block[2] == 0xBF;
    for (std::size_t i = marked ? 3 : 0; i < n; ++i) {
      const unsigned char c = block[i];
      // The second half of a line end of two characters.
      if (c == '\n' && returned) {
        returned = false;
        continue;
      }
      returned = c == '\r';
      quotes += c == '"';
      lines.push_back(returned ? '\n' : c);
    }
    at_start = false;
    sound = sound && std::fwrite(lines.data(), 1, lines.size(), out) == lines.size();
  }
  return std::fclose(out) == 0 && sound ? quotes : -1;
}
