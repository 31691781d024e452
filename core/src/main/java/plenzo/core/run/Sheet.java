package plenzo.core.run;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.core.json.Json;

/**
 * What stood at a site when a run had read it back, component by component of its plan.
 *
 * @param lines of what the plan wrote, the first {@link #MOST} of them
 * @param more how many there are beyond those
 * @param odd what is not as planned, also beside what the plan wrote
 * @param uncarried what stands there and Plenzo only names
 */
public record Sheet(
    Instant at, List<Line> lines, int more, List<String> odd, List<String> uncarried) {
  /** Lines that are kept (guess: nobody reads more one by one). */
  public static final int MOST = 500;

  public Sheet {
    lines = List.copyOf(lines);
    odd = List.copyOf(odd);
    uncarried = List.copyOf(uncarried);
  }

  /**
   * One component.
   *
   * @param where the target that holds it
   * @param planned what the plan did: "3 added", "removed"
   * @param found what is there: "403 rows", "not there"
   * @param active whether it is switched on; null where there is no such state
   * @param visible whether people can reach it; null where the target does not tell
   * @param unbound names of inputs that have no value there
   * @param by who changed it there last; null where the target does not tell
   * @param changed when
   */
  public record Line(
      String component,
      String where,
      String planned,
      boolean asPlanned,
      String found,
      @Nullable Boolean active,
      @Nullable Boolean visible,
      List<String> unbound,
      @Nullable String by,
      @Nullable Instant changed) {
    public Line {
      unbound = List.copyOf(unbound);
    }

    private Json toJson() {
      return Json.object(
          "component",
          component,
          "where",
          where,
          "planned",
          planned,
          "asPlanned",
          asPlanned,
          "found",
          found,
          "active",
          word(active),
          "visible",
          word(visible),
          "unbound",
          unbound,
          "by",
          by,
          "changed",
          changed == null ? null : changed.toString());
    }

    private static @Nullable String word(@Nullable Boolean b) {
      return b == null ? null : b.toString();
    }

    private static @Nullable Boolean bool(Json.Obj j, String name) {
      String text = j.findText(name);
      return text == null ? null : Boolean.valueOf(text);
    }

    private static Line of(Json json) {
      Json.Obj j = json.asObject();
      String changed = j.findText("changed");
      return new Line(
          j.text("component"),
          j.text("where"),
          j.text("planned"),
          j.flag("asPlanned"),
          j.text("found"),
          bool(j, "active"),
          bool(j, "visible"),
          j.texts("unbound"),
          j.findText("by"),
          changed == null ? null : Instant.parse(changed));
    }
  }

  /** Whether everything that was looked at is as planned. */
  public boolean asPlanned() {
    return odd.isEmpty();
  }

  /** As it is kept. */
  public String text() {
    return Json.object(
            "format",
            1,
            "at",
            at.toString(),
            "lines",
            new Json.Arr(lines.stream().map(Line::toJson).toList()),
            "more",
            more,
            "odd",
            odd,
            "uncarried",
            uncarried)
        .canonical();
  }

  public static Sheet of(String text) {
    Json.Obj j = Json.parseObject(text);
    List<Line> lines = new ArrayList<>();
    j.list("lines").forEach(l -> lines.add(Line.of(l)));
    return new Sheet(
        Instant.parse(j.text("at")),
        lines,
        j.find("more") instanceof Json.Num n ? (int) n.value() : 0,
        j.texts("odd"),
        j.texts("uncarried"));
  }
}
