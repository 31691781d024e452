package plenzo.engine.promoting;

import java.util.LinkedHashSet;
import java.util.Set;
import plenzo.core.carrying.CarryOver;
import plenzo.core.promotion.Promotion;
import plenzo.core.target.Question;
import plenzo.core.target.TablesDelta;
import plenzo.core.version.Removal;
import plenzo.engine.Tools;
import plenzo.engine.comparing.Compared;
import plenzo.engine.comparing.Incoming;
import plenzo.engine.setup.SiteLook;

/** What becomes of the values of a promotion's tables, kept beside its case file. */
final class CarriedOver {
  private final Tools tools;

  CarriedOver(Tools tools) {
    this.tools = tools;
  }

  private static String name(long promotion) {
    return "carry-over/P-" + promotion;
  }

  static CarryOver of(
      Promotion p, Incoming incoming, Compared compared, TablesDelta delta, SiteLook look) {
    Set<Removal> removals = new LinkedHashSet<>();
    compared
        .structures()
        .keySet()
        .forEach(
            key ->
                incoming
                    .removals(key)
                    .forEach(
                        part -> removals.add(new Removal(key, part.equals("table/") ? "" : part))));
    return CarryOver.of(
        delta,
        p.brings() ? removals : null,
        (table, columns) -> {
          Question.Answer a =
              look.tables()
                  .answer(
                      Question.of(
                          Question.Type.FILLED_EACH, table, columns.toArray(String[]::new)));
          return new CarryOver.Counted(
              a.count(), a.examples().stream().map(Long::valueOf).toList());
        });
  }

  /** What becomes of the values of a promotion's tables, as it was last compared. */
  CarryOver kept(Promotion p) {
    String name = name(p.number());
    if (!tools.files().exists(name)) {
      return CarryOver.NONE;
    }
    try (java.io.InputStream in = tools.files().open(name, 0)) {
      return CarryOver.read(new String(in.readAllBytes(), java.nio.charset.StandardCharsets.UTF_8));
    } catch (java.io.IOException e) {
      throw new java.io.UncheckedIOException(name + " cannot be read", e);
    }
  }

  void keep(Promotion p, CarryOver carried) {
    byte[] text = carried.canonical().getBytes(java.nio.charset.StandardCharsets.UTF_8);
    tools.files().write(name(p.number()), to -> to.write(text));
  }
}
