package plenzo.cli;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.packages.PackageRefused;
import plenzo.packages.SavedHistory;
import plenzo.packages.SavedHistory.Checked;
import plenzo.packages.SignedHead;

/** What a saved history says, checked with nothing but itself and a head. */
final class SavedText {
  private SavedText() {}

  /**
   * @param head text of a head that was kept elsewhere; null for none
   * @return 0 when it is intact and tied to the head, else {@link Failed#NOT_INTACT}
   */
  static int check(Group group, Path file, @Nullable String head) {
    if (!Files.isRegularFile(file)) {
      throw Failed.usage("There is no file " + file + ".");
    }
    Checked c;
    try {
      c = SavedHistory.check(file, head == null ? null : SignedHead.read(head));
    } catch (PackageRefused e) {
      throw new Failed(
          Failed.NOT_INTACT,
          "REFUSED",
          file + " is refused: " + e.getMessage(),
          List.of("Save it anew: plenzo history save --from"),
          "");
    }
    if (group.out().json()) {
      group.out().document("saved-history", c);
    } else {
      said(group.out(), c);
    }
    return c.intact() && c.word() == SavedHistory.Word.HOLDS ? 0 : Failed.NOT_INTACT;
  }

  private static void said(Out out, Checked c) {
    String entries =
        c.entries() == 0
            ? "No entries"
            : "Entries " + c.first() + " to " + c.last() + " of service " + c.facts().service();
    out.line(
        entries + (c.broken() == 0 ? ", unbroken." : ": entry " + c.broken() + " was altered."));
    out.line(
        "Saved "
            + out.time(c.facts().at())
            + ", from "
            + out.time(c.facts().from())
            + " until "
            + out.time(c.facts().until())
            + "; signed by key "
            + c.keyId()
            + ".");
    out.line(
        Group.counted(c.files(), "file")
            + (c.damaged().isEmpty() ? ", each as it was listed." : ", not all as listed:"));
    c.damaged().forEach(d -> out.line("  " + d));
    c.facts().leftOut().forEach(l -> out.line("  not given: " + l));
    if (c.blanked() > 0) {
      out.line(
          "Blanked: " + Group.counted(c.blanked(), "name") + ", which nobody can tell any more.");
    }
    out.line(
        switch (c.word()) {
          case NONE ->
              "Checked from no head that was kept elsewhere: whoever has the key could have made"
                  + " all of it up. Add --head FILE.";
          case HOLDS ->
              "The head of entry "
                  + c.head()
                  + " holds: every entry up to it is as it was then."
                  + (c.last() > c.head()
                      ? " Those behind it are vouched for by the signature alone."
                      : "");
          case OTHER_SERVICE -> "The head is of another service.";
          case BEFORE ->
              "The head of entry "
                  + c.head()
                  + " is of before the first entry here, and says nothing of those behind it.";
          case AFTER ->
              "The head of entry "
                  + c.head()
                  + " is of after the last entry here, and cannot be tied to it.";
          case ANOTHER ->
              "Entry " + c.head() + " is another one than that of the head: the past was altered.";
        });
  }
}
