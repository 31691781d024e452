package plenzo.connectors.git;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.eclipse.jgit.api.Git;
import org.eclipse.jgit.api.MergeCommand;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import plenzo.core.source.Repository;

/** Who wrote what lies in a commit, since another one, as a real repository says. */
class AuthorsTest {
  @TempDir Path folder;

  private Git git;
  private boolean whole;

  @BeforeEach
  void repository() throws Exception {
    git = Git.init().setDirectory(folder.resolve("work").toFile()).setInitialBranch("trunk").call();
  }

  @AfterEach
  void close() {
    git.close();
  }

  private String commit(String author, String file, String text) throws Exception {
    Path path = folder.resolve("work").resolve(file);
    Files.createDirectories(path.getParent());
    Files.writeString(path, text);
    git.add().addFilepattern(".").call();
    return git.commit()
        .setAuthor(author, author + "@ferries.example")
        .setCommitter("Robot", "robot@ferries.example")
        .setMessage("x")
        .setSign(false)
        .call()
        .getName();
  }

  private List<String> authors(String below, String hash, int most, String... since) {
    List<String> out = new ArrayList<>();
    whole =
        new GitCommits(folder.resolve("copies"))
            .authors(
                new Repository(
                    folder.resolve("work").toString(),
                    below,
                    "trunk",
                    "",
                    Repository.Follow.NOTHING,
                    "v"),
                "",
                hash,
                List.of(since),
                most,
                out::add);
    return out;
  }

  @Test
  void everyAuthorSinceTheCommitBeforeButNoneOfItsPast() throws Exception {
    commit("ada", "a.txt", "1");
    String before = commit("bo", "a.txt", "2");
    commit("cy", "b.txt", "1");
    String head = commit("di", "a.txt", "3");

    assertThat(authors("", head, 100, before))
        .containsExactly("di <di@ferries.example>", "cy <cy@ferries.example>");
    assertThat(whole).isTrue();
    assertThat(authors("", head, 100)).hasSize(4);
    assertThat(authors("", head, 100, head)).isEmpty();
  }

  @Test
  void whatWasMergedIsByThoseWhoWroteItThere() throws Exception {
    String before = commit("ada", "a.txt", "1");
    git.checkout().setCreateBranch(true).setName("side").call();
    commit("eve", "side.txt", "1");
    git.checkout().setName("trunk").call();
    commit("bo", "b.txt", "1");
    git.merge()
        .include(git.getRepository().resolve("side"))
        .setFastForward(MergeCommand.FastForwardMode.NO_FF)
        .setMessage("merged")
        .call();

    assertThat(authors("", git.getRepository().resolve("HEAD").getName(), 100, before))
        .contains("eve <eve@ferries.example>", "bo <bo@ferries.example>")
        .doesNotContain("ada <ada@ferries.example>");
  }

  @Test
  void ofAFolderOnlyThoseWhoTouchedIt() throws Exception {
    String before = commit("ada", "docs/a.txt", "1");
    commit("bo", "elsewhere/b.txt", "1");
    String head = commit("cy", "docs/a.txt", "2");

    assertThat(authors("docs", head, 100, before)).containsExactly("cy <cy@ferries.example>");
  }

  @Test
  void whatIsTooMuchIsSaidAndWhatIsGoneHidesNothing() throws Exception {
    commit("ada", "a.txt", "1");
    String head = commit("bo", "a.txt", "2");

    assertThat(authors("", head, 1)).hasSize(1);
    assertThat(whole).isFalse();
    assertThat(authors("", head, 2, "0".repeat(40))).hasSize(2);
    assertThat(whole).isTrue();
    assertThatThrownBy(() -> authors("", "0".repeat(40), 1))
        .hasMessageContaining("There is no commit");
  }
}
