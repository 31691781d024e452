package plenzo.demo;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import org.eclipse.jgit.api.Git;
import org.eclipse.jgit.api.errors.GitAPIException;
import org.eclipse.jgit.lib.PersonIdent;

/** The repository that holds the application boarding: a real one, made by the demo. */
public final class BoardingRepository implements AutoCloseable {
  private static final PersonIdent AUTHOR =
      new PersonIdent("Sanna Voss", "sanna@morrowick.example");

  private final Path folder;
  private final Git git;

  /**
   * @param folder is made
   */
  public BoardingRepository(Path folder) {
    this.folder = folder;
    try {
      Files.createDirectories(folder);
      this.git = Git.init().setDirectory(folder.toFile()).setInitialBranch("main").call();
    } catch (IOException | GitAPIException e) {
      throw new IllegalStateException("The repository could not be made", e);
    }
  }

  /** What the first version holds. */
  public static Map<String, String> first() {
    return Map.of(
        "definitions/form/boarding.check-in.json",
        """
        {
          "format": 1,
          "kind": "form",
          "name": "boarding.check-in",
          "title": "Check-in at the gate",
          "references": [
            {"how": "reads", "component": "table/sailings.vessel"},
            {"how": "calls", "component": "rule/boarding.lane-choice"}
          ],
          "inputs": [],
          "definition": {"hidden": true, "fields": [{"name": "booking", "required": true}, {"name": "vehicle"}]}
        }
        """,
        "definitions/rule/boarding.lane-choice.json",
        """
        {
          "format": 1,
          "kind": "rule",
          "name": "boarding.lane-choice",
          "title": "Which lane a vehicle takes",
          "references": [],
          "inputs": [{"name": "lanes", "type": "number", "description": "Lanes at this terminal", "default": "4"}],
          "definition": {"form": "boarding.check-in", "order": 10, "when": {"vehicle": "COACH"}, "then": {"lane": "1"}}
        }
        """,
        "files/boarding/lanes.html",
        "<h1>Lanes</h1>\n<p>Coaches take lane 1.</p>\n",
        "README.md",
        "Boarding: documents that Plenzo reads.\n");
  }

  /** What the second version changes. */
  public static Map<String, String> second() {
    return Map.of(
        "definitions/rule/boarding.lane-choice.json",
        java.util.Objects.requireNonNull(first().get("definitions/rule/boarding.lane-choice.json"))
            .replace("{\"lane\": \"1\"}", "{\"lane\": \"2\"}"),
        "files/boarding/lanes.html",
        "<h1>Lanes</h1>\n<p>Coaches take lane 2.</p>\n");
  }

  /** Writes files and commits them all; what is not named stays. */
  public String commit(Map<String, String> files, String message, String tag) {
    try {
      for (Map.Entry<String, String> e : files.entrySet()) {
        Path file = folder.resolve(e.getKey());
        Files.createDirectories(file.getParent());
        Files.writeString(file, e.getValue());
      }
      git.add().addFilepattern(".").call();
      String hash =
          git.commit()
              .setAuthor(AUTHOR)
              .setCommitter(AUTHOR)
              .setMessage(message)
              .setSign(false)
              .call()
              .getName();
      if (!tag.isEmpty()) {
        git.tag().setName(tag).setTagger(AUTHOR).setMessage(message).setSigned(false).call();
      }
      return hash;
    } catch (IOException e) {
      throw new UncheckedIOException("The documents could not be written", e);
    } catch (GitAPIException e) {
      throw new IllegalStateException("The documents could not be committed", e);
    }
  }

  public Path folder() {
    return folder;
  }

  @Override
  public void close() {
    git.close();
  }
}
