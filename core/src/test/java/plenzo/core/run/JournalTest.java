package plenzo.core.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.core.run.JournalEntry.Deed;
import plenzo.core.run.JournalEntry.Outcome;
import plenzo.core.run.JournalEntry.Type;
import plenzo.core.target.TargetId;

/** What a target holds, as far as its journal says. */
class JournalTest {
  private static final TargetId HOST = new TargetId("production/north/host");
  private static final TargetId OTHER = new TargetId("production/north/files");

  /** "switch", "switch=applied", "undo", "undo=refused", each with its try. */
  private static Journal journal(String said) {
    List<JournalEntry> out = new ArrayList<>();
    for (String one : said.isBlank() ? new String[0] : said.strip().split(" ")) {
      String[] parts = one.split("=");
      int attempt = Character.digit(parts[0].charAt(parts[0].length() - 1), 10);
      Deed deed = parts[0].startsWith("switch") ? Deed.SWITCH : Deed.UNDO;
      boolean outcome = parts.length > 1;
      out.add(
          new JournalEntry(
              out.size(),
              1,
              deed,
              attempt,
              outcome ? Type.OUTCOME : Type.INTENT,
              HOST,
              outcome ? Outcome.of(parts[1]) : null,
              null,
              "",
              Instant.EPOCH));
    }
    return new Journal(out);
  }

  @ParameterizedTest
  @CsvSource({
    "'', OLD",
    "switch1, UNKNOWN",
    "switch1 switch1=applied, NEW",
    "switch1 switch1=refused, OLD",
    "switch1 switch1=void, OLD",
    // the first try was lost, and the second tried again
    "switch1 switch2 switch2=applied, UNKNOWN",
    "switch1 switch2 switch1=applied switch2=void, NEW",
    "switch1 switch2 switch1=void switch2=applied, NEW",
    // switched back, or about to be, or refused to be
    "switch1 switch1=applied undo1, UNKNOWN",
    "switch1 switch1=applied undo1 undo1=undone, OLD",
    "switch1 switch1=applied undo1 undo1=refused, NEW",
    "switch1 switch1=applied undo1 undo1=undone switch2 switch2=applied, NEW",
  })
  void aTargetHoldsWhatItsLastOutcomeSays(String said, Journal.Holds holds) {
    assertThat(journal(said).holds(HOST)).isEqualTo(holds);
    assertThat(journal(said).holds(OTHER)).as("another target").isEqualTo(Journal.Holds.OLD);
  }
}
