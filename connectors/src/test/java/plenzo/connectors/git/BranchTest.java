package plenzo.connectors.git;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import org.eclipse.jgit.api.Git;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import plenzo.core.source.Repository;
import plenzo.core.target.TargetFailed;

/** Which branch is meant, and whether it and the folder are there, as a real repository says. */
class BranchTest {
  @TempDir Path folder;

  private Git git;

  @BeforeEach
  void repository() throws Exception {
    git = Git.init().setDirectory(folder.resolve("work").toFile()).setInitialBranch("trunk").call();
  }

  @AfterEach
  void close() {
    git.close();
  }

  private void commit(String file) throws Exception {
    Path path = folder.resolve("work").resolve(file);
    Files.createDirectories(path.getParent());
    Files.writeString(path, "x");
    git.add().addFilepattern(".").call();
    git.commit()
        .setAuthor("Ada", "ada@ferries.example")
        .setCommitter("Ada", "ada@ferries.example")
        .setMessage("x")
        .setSign(false)
        .call();
  }

  private String branch(String named, String below) {
    return new GitCommits(folder.resolve("copies"))
        .branch(
            new Repository(
                folder.resolve("work").toString(),
                below,
                named,
                "",
                Repository.Follow.NOTHING,
                "v"),
            "");
  }

  @Test
  void theRepositorysOwnIsMeantWhereNoneIsNamed() throws Exception {
    commit("docs/files/fares/a.txt");
    git.branchCreate().setName("other").call();

    assertThat(branch("", "")).isEqualTo("trunk");
    assertThat(branch("", "docs")).isEqualTo("trunk");
    assertThat(branch("other", "docs/files")).isEqualTo("other");

    git.checkout().setName("other").call();
    assertThat(branch("", "")).isEqualTo("other");
  }

  @Test
  void whatIsNotThereIsSaidWithWhatThereIs() throws Exception {
    commit("docs/files/fares/a.txt");
    commit("notes/b.txt");

    assertThatThrownBy(() -> branch("main", ""))
        .isInstanceOf(IllegalArgumentException.class)
        .hasMessageContaining("no branch \"main\"")
        .hasMessageEndingWith("; there is trunk");
    assertThatThrownBy(() -> branch("", "documents"))
        .isInstanceOf(IllegalArgumentException.class)
        .hasMessage("There is no folder \"documents\" on the branch trunk; there is docs, notes");
    assertThatThrownBy(() -> branch("", "notes/b.txt"))
        .as("a file is no folder")
        .hasMessageContaining("no folder \"notes/b.txt\"");
  }

  @Test
  void aRepositoryWithoutCommitsOrNoRepositoryAtAllIsSaidToBeThat() {
    assertThatThrownBy(() -> branch("", "")).hasMessageContaining("it has no commit yet");
    assertThatThrownBy(
            () ->
                new GitCommits(folder.resolve("copies"))
                    .branch(
                        new Repository(
                            folder.toString(), "", "", "", Repository.Follow.NOTHING, "v"),
                        ""))
        .isInstanceOf(TargetFailed.class)
        .hasMessageContaining(folder.toString());
  }
}
