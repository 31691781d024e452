package plenzo.core.comparison;

import java.util.Arrays;
import java.util.List;

/**
 * Which items of two lists are the same, in their order: a longest common subsequence, after what
 * both begin and end with. Pure and deterministic; of two subsequences of one length the one that
 * skips items of the first list earlier.
 */
public final class Matching {
  /** Pairs that are held against each other at most (guess: 16 MB); beyond only the ends match. */
  private static final long MOST = 4_000_000;

  private Matching() {}

  /**
   * @return for each item of the first list where its match stands in the second, −1 for none;
   *     ascending among those that match
   */
  public static <T> int[] of(List<T> a, List<T> b) {
    int[] out = new int[a.size()];
    Arrays.fill(out, -1);
    int from = 0;
    while (from < a.size() && from < b.size() && a.get(from).equals(b.get(from))) {
      out[from] = from;
      from++;
    }
    int endA = a.size();
    int endB = b.size();
    while (endA > from && endB > from && a.get(endA - 1).equals(b.get(endB - 1))) {
      out[--endA] = --endB;
    }
    if ((long) (endA - from) * (endB - from) <= MOST) {
      middle(a.subList(from, endA), b.subList(from, endB), from, out);
    }
    return out;
  }

  private static <T> void middle(List<T> a, List<T> b, int from, int[] out) {
    int[][] common = new int[a.size() + 1][b.size() + 1];
    for (int i = a.size() - 1; i >= 0; i--) {
      for (int j = b.size() - 1; j >= 0; j--) {
        common[i][j] =
            a.get(i).equals(b.get(j))
                ? common[i + 1][j + 1] + 1
                : Math.max(common[i + 1][j], common[i][j + 1]);
      }
    }
    int i = 0;
    int j = 0;
    while (i < a.size() && j < b.size()) {
      if (a.get(i).equals(b.get(j))) {
        out[from + i++] = from + j++;
      } else if (common[i + 1][j] >= common[i][j + 1]) {
        i++;
      } else {
        j++;
      }
    }
  }
}
