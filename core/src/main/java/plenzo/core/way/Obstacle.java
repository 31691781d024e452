package plenzo.core.way;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Decision;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.words.Words;

/**
 * What closes a way back until somebody chooses (decision D12): what the version being left created
 * and something else uses by now, and what people changed since; beside it, what does not fit the
 * earlier structure. One choice for all of a component, and one for each row that is named.
 *
 * @param at what a choice for all of it is kept under: {@code records/fares.band#in-use}, the part
 *     itself, {@code table/fares.band#column/zone}, or the component, {@code records/fares.band},
 *     for what people changed since
 * @param count rows or parts of it
 * @param sentence what uses what
 * @param offers what can be chosen, the one that loses least first
 * @param chosen what was chosen for all of it; null when nothing was
 * @param rows some of them, each with a choice of its own; none for a part of a structure
 */
public record Obstacle(
    String at,
    long count,
    String sentence,
    List<Offer> offers,
    @Nullable Decision chosen,
    List<Row> rows) {
  /** Behind a records component: all of its rows that go and are used. */
  public static final String IN_USE = "#in-use";

  /** Behind a records component: every row of it that would go, when too many to name are used. */
  public static final String ALL_THAT_GO = "#all-that-go";

  /** Rows that are named, each with a choice of its own (guess: more are chosen as one). */
  public static final int MOST_NAMED = 5_000;

  /** Rows that are shown. */
  public static final int MOST_SHOWN = 50;

  public Obstacle {
    offers = List.copyOf(offers);
    rows = List.copyOf(rows);
  }

  /**
   * @param loses rows and values of others that go with it, {@link #WITH_THE_WAY} when they are
   *     counted only with what the whole way loses
   */
  public record Offer(Decision decision, String words, long loses) {
    public static final long WITH_THE_WAY = -1;
  }

  /**
   * One row that goes and is used.
   *
   * @param at {@code records/fares.band#row/"PET"}
   * @param key its key as people read it
   * @param usedBy such as "1 row of fares.booking"
   * @param chosen for it alone, or for all; null when neither was
   */
  public record Row(String at, String key, String usedBy, @Nullable Decision chosen) {}

  /**
   * A row that goes, and how many rows of which tables use it.
   *
   * @param keyLine its key in canonical form
   */
  public record Use(ComponentKey records, String keyLine, Map<String, Long> by) {
    public Use {
      by = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(by));
    }

    public String at() {
      return records + "#row/" + keyLine;
    }

    long count() {
      return by.values().stream().mapToLong(Long::longValue).sum();
    }
  }

  /** What was chosen for a row: for it alone, or for all of its component. */
  public static @Nullable Decision chosen(
      Map<String, Decision> decisions, ComponentKey records, String keyLine) {
    Decision own = decisions.get(records + "#row/" + keyLine);
    return own != null ? own : decisions.get(records + IN_USE);
  }

  /** Whether a choice is about what is used, and not one about a row or part itself. */
  public static boolean forAll(String at) {
    return at.endsWith(IN_USE) || at.endsWith(ALL_THAT_GO);
  }

  /**
   * The used rows of one component.
   *
   * @param version that brought them
   */
  public static Obstacle of(
      ComponentKey records, List<Use> uses, Map<String, Decision> decisions, String version) {
    Map<String, Long> by = new LinkedHashMap<>();
    uses.forEach(u -> u.by().forEach((table, n) -> by.merge(table, n, Long::sum)));
    long hanging = uses.stream().mapToLong(Use::count).sum();
    String table = records.name();
    String sentence =
        Words.count(uses.size(), "row")
            + " of "
            + table
            + " that "
            + version
            + " brought "
            + (uses.size() == 1 ? "is" : "are")
            + " used by "
            + shown(by)
            + ".";
    List<Row> rows = new ArrayList<>();
    for (Use u : uses.subList(0, Math.min(MOST_SHOWN, uses.size()))) {
      rows.add(
          new Row(
              u.at(),
              u.keyLine().replace("\"", ""),
              shown(u.by()),
              chosen(decisions, records, u.keyLine())));
    }
    return new Obstacle(
        records + IN_USE,
        uses.size(),
        sentence,
        List.of(
            new Offer(
                Decision.KEEP,
                "Leave " + (uses.size() == 1 ? "it" : "them") + " there, left over from " + version,
                0),
            new Offer(
                Decision.TAKE_INCOMING,
                "Remove "
                    + (uses.size() == 1 ? "it" : "them")
                    + ", with what hangs on "
                    + (uses.size() == 1 ? "it" : "them"),
                hanging)),
        decisions.get(records + IN_USE),
        rows);
  }

  /** A part of a structure that goes and that something else needs: it can only be left there. */
  public static Obstacle ofPart(
      String at, String sentence, Map<String, Decision> decisions, String version) {
    return new Obstacle(
        at,
        1,
        sentence,
        List.of(new Offer(Decision.KEEP, "Leave it there, left over from " + version, 0)),
        decisions.get(at),
        List.of());
  }

  /**
   * A part of a structure that comes back and that rows of today do not fit: it stays as it is, or
   * the rows are made to fit, which is what the way does when nothing is chosen and it can.
   *
   * @param settled whether the rows can be made to fit
   */
  public static Obstacle ofUnfit(
      Unfit unfit, boolean settled, Map<String, Decision> decisions, String leaving, String to) {
    List<Offer> offers = new ArrayList<>();
    offers.add(new Offer(Decision.KEEP, "Leave it as " + leaving + " has it, and the rows too", 0));
    if (settled) {
      offers.add(
          new Offer(
              Decision.TAKE_INCOMING,
              "Make it as " + to + " had it; what does not fit gives way",
              Offer.WITH_THE_WAY));
    }
    Decision chosen = decisions.get(unfit.at());
    return new Obstacle(
        unfit.at(),
        unfit.count(),
        unfit.sentence(),
        offers,
        chosen == null && settled ? Decision.TAKE_INCOMING : chosen,
        List.of());
  }

  /**
   * What the version being left changed and people changed since.
   *
   * @param count rows or parts
   * @param rows some of them, of records
   */
  public static Obstacle ofMoved(
      ComponentKey key,
      long count,
      List<Row> rows,
      Map<String, Decision> decisions,
      String leaving,
      String to) {
    boolean records = key.kind() == Kind.RECORDS;
    boolean whole = key.kind().whole();
    String what =
        whole
            ? key.toString()
            : Words.count(count, records ? "row" : "part")
                + " of "
                + (records ? key.name() : key.toString());
    return new Obstacle(
        key.toString(),
        count,
        what
            + (count == 1 ? " was" : " were")
            + " changed by "
            + leaving
            + " and by somebody since.",
        List.of(
            new Offer(Decision.KEEP, "Keep what is there", 0),
            new Offer(Decision.TAKE_INCOMING, "Take what " + to + " had", count)),
        decisions.get(key.toString()),
        rows);
  }

  private static String shown(Map<String, Long> by) {
    List<String> out = new ArrayList<>();
    by.forEach((table, n) -> out.add(Words.count(n, "row") + " of " + table));
    return String.join(" and ", out);
  }
}
