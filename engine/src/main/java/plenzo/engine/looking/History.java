package plenzo.engine.looking;

import java.util.List;
import plenzo.core.history.HistoryEntry;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.person.Right;
import plenzo.engine.Tools;
import plenzo.engine.people.Rights;

/** What people look back on, and whether it is whole. */
public final class History {
  private final Tools tools;

  public History(Tools tools) {
    this.tools = tools;
  }

  /** Events that the person may see, newest first. */
  public List<HistoryEntry> list(Person by, Kept.HistoryFilter filter) {
    return tools.keeper().read(kept -> kept.history(filter)).stream()
        .filter(
            e ->
                e.stage() == null && e.application() == null
                    ? by.may(Right.AUDIT, "*", "*") || e.actor().equals(by.login())
                    : by.may(
                        Right.LOOK,
                        e.stage() == null ? "*" : e.stage(),
                        e.application() == null ? "*" : e.application()))
        .toList();
  }

  /**
   * Whether the history is whole.
   *
   * @param broken number of the first entry that was altered, 0 when none was
   */
  public record Chain(long entries, String head, long broken) {}

  public Chain verify(Person by) {
    Rights.require(by, Right.AUDIT, "*", "*");
    long entries = 0;
    long broken = 0;
    long before = 0;
    String expected = null;
    String head = HistoryEntry.START;
    while (true) {
      long from = before;
      List<HistoryEntry> page =
          tools
              .keeper()
              .read(
                  kept ->
                      kept.history(
                          new Kept.HistoryFilter(null, null, null, null, null, from, 500)));
      for (HistoryEntry e : page) {
        if (expected == null) {
          head = e.hash();
        } else if (!expected.equals(e.hash())) {
          broken = e.sequence();
        }
        if (!e.computedHash().equals(e.hash())) {
          broken = e.sequence();
        }
        expected = e.before();
        before = e.sequence();
        entries++;
      }
      if (page.isEmpty() || before == 1) {
        break;
      }
    }
    if (expected != null && !expected.equals(HistoryEntry.START)) {
      broken = Math.max(1, broken);
    }
    return new Chain(entries, head, broken);
  }
}
