package plenzo.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.api.Stages.ConditionView;
import plenzo.api.Stages.PickView;

/** Components as people write them. */
final class Picks {
  /** Rows that one selection names (guess: more are told by a condition). */
  private static final int MOST_ROWS = 500;

  static final String GENERATED =
      "Take rows by a key that each database makes itself, although the same row may have another key elsewhere.";

  private Picks() {}

  /**
   * {@code records/fares.band} or {@code records/fares.band:code,zone}.
   *
   * @param generated whether a key that each database makes itself is taken all the same
   */
  static PickView pick(String text, boolean generated) {
    int colon = text.indexOf(':');
    return colon < 0
        ? new PickView(text, null, null, generated, null, null)
        : new PickView(
            text.substring(0, colon),
            List.of(text.substring(colon + 1).split(",")),
            null,
            generated,
            null,
            null);
  }

  /** The same pick with what is done to rows that a site has otherwise. */
  static PickView under(PickView p, @Nullable String policy) {
    return policy == null
        ? p
        : new PickView(
            p.component(), p.key(), p.condition(), p.generatedKeyConfirmed(), p.where(), policy);
  }

  /**
   * A condition that exactly the rows with these keys meet.
   *
   * @param file a key a line, its values in the order of the columns
   */
  static ConditionView rows(List<String> key, Path file) {
    List<ConditionView> rows = new ArrayList<>();
    try {
      for (String line : Files.readAllLines(file)) {
        if (!line.isBlank() && !line.startsWith("#")) {
          rows.add(row(key, line.strip().split(",", -1)));
        }
      }
    } catch (IOException e) {
      throw Failed.usage("The file " + file + " cannot be read.");
    }
    if (rows.isEmpty() || rows.size() > MOST_ROWS) {
      throw Failed.usage(
          "The file "
              + file
              + " names "
              + Group.counted(rows.size(), "row")
              + "; it must be 1 to "
              + MOST_ROWS
              + ".");
    }
    return joined("or", rows);
  }

  private static ConditionView row(List<String> key, String[] values) {
    if (values.length != key.size()) {
      throw Failed.usage(
          "A line names "
              + Group.counted(values.length, "value")
              + ", and the key has "
              + Group.counted(key.size(), "column")
              + ": "
              + String.join(",", values));
    }
    List<ConditionView> parts = new ArrayList<>();
    for (int n = 0; n < values.length; n++) {
      parts.add(new ConditionView("=", key.get(n), values[n].strip(), null));
    }
    return joined("and", parts);
  }

  private static ConditionView joined(String word, List<ConditionView> parts) {
    return parts.size() == 1 ? parts.get(0) : new ConditionView(word, null, null, parts);
  }
}
