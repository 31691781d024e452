package plenzo.engine.comparing;

import java.io.BufferedReader;
import java.io.BufferedWriter;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.OutputStream;
import java.io.OutputStreamWriter;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Consumer;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.drift.Differing;
import plenzo.core.drift.Differing.How;
import plenzo.core.json.Json;
import plenzo.core.keeping.Kept;
import plenzo.core.promotion.Promotion;
import plenzo.core.stage.SiteRecord;
import plenzo.engine.Tools;
import plenzo.engine.setup.SiteLook;

/**
 * All that differs at a site, written down at each look, so that who reads it asks no target: a
 * line each, with since when it is known.
 */
public final class DriftList {
  /** Lines of a list (guess: nobody reads more); what is beyond is counted, and that is said. */
  private static final long MOST = 100_000;

  private static final String FOLDER = "drift";

  private final Tools tools;

  public DriftList(Tools tools) {
    this.tools = tools;
  }

  /**
   * What differs of one component.
   *
   * @param run the run that wrote it last, null when none did since it is recorded here
   * @param author who changed it there last, null where the target cannot tell
   */
  public record Group(
      ComponentKey component,
      long changed,
      long gone,
      long onlyThere,
      @Nullable Long run,
      @Nullable String author) {
    public long all() {
      return changed + gone + onlyThere;
    }
  }

  /**
   * What a list is of.
   *
   * @param at when structures, files and definitions were looked at
   * @param rowsAt when rows were, null when they never were
   * @param listed how many of all that differs are listed
   * @param placements how much had come to the site until then
   */
  public record Head(
      Instant at, @Nullable Instant rowsAt, long listed, long placements, List<Group> groups) {
    public long all() {
      return groups.stream().mapToLong(Group::all).sum();
    }
  }

  /**
   * One that differs.
   *
   * @param since when it was found first, and at every look since then
   */
  public record Line(Differing what, Instant since) {}

  /**
   * A part of a list.
   *
   * @param next where the following one begins, 0 when there is none
   */
  public record Part(List<Line> lines, long next) {}

  /**
   * Writes what a look found.
   *
   * @param look where it was looked
   * @param incoming what the comparison was made with: the version that is recorded
   * @param rows whether rows were looked at; those of the last list stay when they were not
   * @return the name of the list
   */
  public String write(
      SiteRecord r,
      SiteLook look,
      Compared compared,
      Incoming incoming,
      String space,
      boolean rows) {
    String name = FOLDER + "/" + tools.newId();
    Old old = old(r.look().list());
    try (Writing out = new Writing(name, old.since)) {
      Differences all = new Differences(compared, incoming);
      all.parts(space, out::add);
      if (rows) {
        all.rows(out::add);
      } else if (old.name != null) {
        each(old.name, x -> x.component().kind() == Kind.RECORDS, x -> out.add(x.what()));
        out.beyond(old.head);
      }
      Instant rowsAt = rows ? tools.now() : old.head == null ? null : old.head.rowsAt();
      out.head(rowsAt, r.placements().size(), written(r, old.head, out.counts.keySet()), look);
    }
    return name;
  }

  /** What was known before. */
  private record Old(@Nullable String name, @Nullable Head head, Map<String, Instant> since) {}

  private Old old(@Nullable String name) {
    Head head = head(name);
    if (head == null || name == null) {
      return new Old(null, null, Map.of());
    }
    Map<String, Instant> since = new HashMap<>();
    each(name, x -> true, x -> since.put(x.what().place(), x.since()));
    return new Old(name, head, since);
  }

  /** A list that grows. */
  private final class Writing implements AutoCloseable {
    private final String name;
    private final Map<String, Instant> since;
    private final OutputStream out;
    private final BufferedWriter lines;
    private final Map<ComponentKey, Map<How, Long>> counts = new TreeMap<>();
    private final Instant now = tools.now();
    private long listed;

    Writing(String name, Map<String, Instant> since) {
      this.name = name;
      this.since = since;
      this.out = tools.files().create(name + ".lines");
      this.lines = new BufferedWriter(new OutputStreamWriter(out, StandardCharsets.UTF_8));
    }

    void add(Differing d) {
      counts
          .computeIfAbsent(d.component(), key -> new EnumMap<>(How.class))
          .merge(d.how(), 1L, Long::sum);
      if (listed == MOST) {
        return;
      }
      listed++;
      try {
        lines.write(
            Json.object("since", since.getOrDefault(d.place(), now).toString(), "what", d.toJson())
                .canonical());
        lines.write('\n');
      } catch (IOException e) {
        throw new UncheckedIOException("What differs cannot be written down", e);
      }
    }

    /** Rows of the last list that were counted and not listed are still there. */
    void beyond(@Nullable Head old) {
      for (Group g : old == null ? List.<Group>of() : old.groups()) {
        if (g.component().kind() == Kind.RECORDS) {
          Map<How, Long> all = counts.computeIfAbsent(g.component(), k -> new EnumMap<>(How.class));
          all.put(How.CHANGED, g.changed());
          all.put(How.GONE, g.gone());
          all.put(How.ONLY_THERE, g.onlyThere());
        }
      }
    }

    void head(
        @Nullable Instant rowsAt, long placements, Map<ComponentKey, Long> runs, SiteLook look) {
      List<Json> groups = new ArrayList<>();
      counts.forEach(
          (key, all) ->
              groups.add(
                  Json.object(
                      "component",
                      key.toString(),
                      "changed",
                      all.getOrDefault(How.CHANGED, 0L),
                      "gone",
                      all.getOrDefault(How.GONE, 0L),
                      "onlyThere",
                      all.getOrDefault(How.ONLY_THERE, 0L),
                      "run",
                      runs.get(key),
                      "author",
                      look.lastChange(key).by())));
      String text =
          Json.object(
                  "at",
                  now.toString(),
                  "rowsAt",
                  rowsAt == null ? null : rowsAt.toString(),
                  "listed",
                  listed,
                  "placements",
                  placements,
                  "groups",
                  groups)
              .canonical();
      tools.files().write(name + ".head", to -> to.write(text.getBytes(StandardCharsets.UTF_8)));
    }

    @Override
    public void close() {
      try {
        lines.close();
      } catch (IOException e) {
        throw new UncheckedIOException("What differs cannot be written down", e);
      }
    }
  }

  /** The same as {@link #lastWritten}; what was found before is not looked for again. */
  private Map<ComponentKey, Long> written(
      SiteRecord r, @Nullable Head before, Set<ComponentKey> asked) {
    if (before == null || before.placements() != r.placements().size()) {
      return lastWritten(r, asked);
    }
    Set<ComponentKey> fresh = new HashSet<>(asked);
    Map<ComponentKey, Long> out = new HashMap<>();
    for (Group g : before.groups()) {
      fresh.remove(g.component());
      if (g.run() != null) {
        out.put(g.component(), g.run());
      }
    }
    out.putAll(lastWritten(r, fresh));
    return out;
  }

  /** Which run wrote each of the components last, as far back as the record goes. */
  private Map<ComponentKey, Long> lastWritten(SiteRecord r, Set<ComponentKey> asked) {
    Set<ComponentKey> open = new HashSet<>(asked);
    Map<ComponentKey, Long> out = new HashMap<>();
    for (int n = r.placements().size() - 1; n >= 0 && !open.isEmpty(); n--) {
      Long number = r.placements().get(n).run();
      if (number == null) {
        continue;
      }
      Promotion p = tools.keeper().read(kept -> promotion(kept, number));
      if (p != null) {
        p.components().stream()
            .filter(c -> !c.touched().isEmpty() && open.remove(c.key()))
            .forEach(c -> out.put(c.key(), number));
      }
    }
    return out;
  }

  private static @Nullable Promotion promotion(Kept kept, long run) {
    return kept.runs()
        .find(String.valueOf(run))
        .flatMap(r -> kept.promotions().find(String.valueOf(r.promotion())))
        .orElse(null);
  }

  /** What a list is of; null when there is none, or it is of another Plenzo's records. */
  public @Nullable Head head(@Nullable String name) {
    if (name == null || !tools.files().exists(name + ".head")) {
      return null;
    }
    try (InputStream in = tools.files().open(name + ".head", 0)) {
      Json.Obj head = Json.parse(new String(in.readAllBytes(), StandardCharsets.UTF_8)).asObject();
      String rowsAt = head.findText("rowsAt");
      return new Head(
          Instant.parse(head.text("at")),
          rowsAt == null ? null : Instant.parse(rowsAt),
          number(head, "listed"),
          number(head, "placements"),
          head.list("groups").stream()
              .map(Json::asObject)
              .map(
                  g ->
                      new Group(
                          ComponentKey.of(g.text("component")),
                          number(g, "changed"),
                          number(g, "gone"),
                          number(g, "onlyThere"),
                          g.find("run") == null ? null : number(g, "run"),
                          g.findText("author")))
              .toList());
    } catch (IOException e) {
      throw new UncheckedIOException("What differs cannot be read", e);
    }
  }

  private static long number(Json.Obj from, String name) {
    return from.find(name) instanceof Json.Num n ? n.value() : 0;
  }

  private static Line line(String text) {
    Json.Obj j = Json.parse(text).asObject();
    return new Line(
        Differing.of(java.util.Objects.requireNonNull(j.find("what"))),
        Instant.parse(j.text("since")));
  }

  /** Every line that is asked for, in the order of the list. */
  public void each(String name, Predicate<Differing> asked, Consumer<Line> sink) {
    part(name, 0, Long.MAX_VALUE, asked, sink);
  }

  /**
   * A part of the lines that are asked for.
   *
   * @param from 0, or what the part before said is next
   */
  public Part part(String name, long from, int limit, Predicate<Differing> asked) {
    List<Line> out = new ArrayList<>();
    long next = part(name, from, limit, asked, out::add);
    return new Part(out, next);
  }

  private long part(
      String name, long from, long limit, Predicate<Differing> asked, Consumer<Line> sink) {
    long at = from;
    long found = 0;
    try (BufferedReader in =
        new BufferedReader(
            new InputStreamReader(
                tools.files().open(name + ".lines", from), StandardCharsets.UTF_8))) {
      for (String text = in.readLine(); text != null; text = in.readLine()) {
        Line line = line(text);
        if (asked.test(line.what())) {
          if (found == limit) {
            return at;
          }
          found++;
          sink.accept(line);
        }
        at += text.getBytes(StandardCharsets.UTF_8).length + 1;
      }
      return 0;
    } catch (IOException e) {
      throw new UncheckedIOException("What differs cannot be read", e);
    }
  }

  /** Removes a list that another one took the place of. */
  public void remove(@Nullable String name) {
    if (name != null) {
      tools.files().remove(name + ".lines");
      tools.files().remove(name + ".head");
    }
  }

  /** Removes what no record names: a look that was cut off left it. */
  public void tidy(Collection<String> named) {
    for (String file : tools.files().list(FOLDER)) {
      String path = FOLDER + "/" + file;
      if (!named.contains(path.substring(0, path.lastIndexOf('.')))) {
        tools.files().remove(path);
      }
    }
  }
}
