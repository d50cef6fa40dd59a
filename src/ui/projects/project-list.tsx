'use client';
import { Box, Flex, Grid, Heading, Image, Stack, Text } from '@chakra-ui/react';
import NextLink from 'next/link';
import { useState, type FormEvent } from 'react';
import type { ProjectCard } from '@/core/project/models';
import { api, messageOf } from '../api';
import { Card, Field, PrimaryButton, Trouble } from '../controls';

export function ProjectList({ projects }: { projects: ProjectCard[] }) {
  return (
    <Box as="main" maxW="1120px" mx="auto" px={{ base: '4', md: '6' }} py="8">
      <Heading as="h1" fontSize="3xl" mb="6">
        Projects
      </Heading>
      <Grid templateColumns={{ base: '1fr', sm: 'repeat(auto-fill, minmax(300px, 1fr))' }} gap="5" alignItems="stretch">
        {projects.map((project) => (
          <NextLink key={project.id} href={`/projects/${project.id}/review`}>
            <Card overflow="hidden" h="full" _hover={{ borderColor: 'softInk' }}>
              <Box bg="felt" h="180px">
                {project.preview ? (
                  <Image src={project.preview} alt="" w="full" h="full" objectFit="cover" />
                ) : (
                  <Flex h="full" align="center" justify="center" color="softInk">
                    No model yet
                  </Flex>
                )}
              </Box>
              <Box p="4">
                <Heading as="h2" fontSize="lg">
                  {project.name}
                </Heading>
                <Text color="softInk" fontSize="sm">
                  {[
                    project.place,
                    `${project.models} ${project.models === 1 ? 'model' : 'models'}`,
                    project.newest ? `published ${project.newest.slice(0, 10)}` : null,
                  ]
                    .filter(Boolean)
                    .join(' · ')}
                </Text>
              </Box>
            </Card>
          </NextLink>
        ))}
        <NewProject />
      </Grid>
    </Box>
  );
}

function NewProject() {
  const [trouble, setTrouble] = useState<string | null>(null);
  const submit = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    try {
      const { id } = await api.post<{ id: string }>('/api/projects', {
        name: String(form.get('name')),
        place: String(form.get('place')),
      });
      location.assign(`/projects/${id}/prepare`);
    } catch (error) {
      setTrouble(messageOf(error));
    }
  };
  return (
    <Box borderWidth="1.5px" borderStyle="dashed" borderColor="seam" borderRadius="card" p="4">
      <form onSubmit={submit}>
        <Stack gap="3">
          <Heading as="h2" fontSize="lg">
            New project
          </Heading>
          <Field label="Name" name="name" required maxLength={120} />
          <Field label="Place" name="place" maxLength={120} />
          <Trouble text={trouble} />
          <PrimaryButton type="submit" alignSelf="start">
            Make project
          </PrimaryButton>
        </Stack>
      </form>
    </Box>
  );
}
